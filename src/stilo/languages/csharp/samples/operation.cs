int length = lorries.length() + trailers.length() + bicycles.length() + gaps;
int sum = a + b + c;
