import { lane } from "./lane.js";
import path from "node:path";
