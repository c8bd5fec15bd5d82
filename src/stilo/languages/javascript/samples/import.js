import { lane } from "./lane.js";
import path from "node:path";
import { berth } from "skerry";
import { deck } from "./deck.js";
