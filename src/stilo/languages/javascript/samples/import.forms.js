import { quay } from "berths";
import * as boats from "boats";
import { tide } from "tides";

boats.moor(quay, tide);
