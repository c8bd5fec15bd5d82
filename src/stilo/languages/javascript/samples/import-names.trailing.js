import { north, south, } from "lanes";
import { adult, child, senior, student, vehicle, season, } from "fares";
import { adult, child, senior, student, vehicle, seasons } from "fares";
