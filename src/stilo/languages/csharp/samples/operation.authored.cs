int length = lorries
    + trailers + bicycles
    + gapsBetweenLorries + gapsBetweenTrailers;
