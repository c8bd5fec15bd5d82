const length = lorries +
  trailers + bicycles +
  gapsBetweenLorries + gapsBetweenTrailers
