import { north, south } from "lanes";
import {
  car, bus } from "decks";
import { adult, child, senior, student, vehicle, season } from "fares";
import { adults, children, seniors, students, vehicles, seasons, cabins, rows } from "all";
