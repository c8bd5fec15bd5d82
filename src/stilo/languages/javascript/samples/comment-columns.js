// The ramp is lowered only once both lines are fast and the deck officer has given the word.
lower(ramp);
