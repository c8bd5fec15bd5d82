import { tides } from "./timetable.js";

export const value = (name) => eval(name);
