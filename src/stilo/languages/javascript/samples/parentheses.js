if (berthIsFree && tideIsRising && linesAreFast && rampIsLow) sail();
