bool free = deck is Lower or Upper or Middle or Bicycles or Trailers;
bool one = deck is Lower or Upper;
