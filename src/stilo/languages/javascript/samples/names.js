let lorries = 0, trailers = 0, bicycles = 0, passengers = 0, crew = 0, dogs;
let a, b, c;
