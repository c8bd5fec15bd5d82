import board, { lanes } from "./board.js";
import { berths } from "./board.js";

board(lanes, berths);
