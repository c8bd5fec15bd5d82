import { berth } from "./berth.js";
import { sailings, tides } from "./timetable.js";

export const first = () => sailings[0];
