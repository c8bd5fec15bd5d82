length = moor(lorries.length() + trailers.length() + bicycles.length(), gaps)
total = moor(a + b + c)
