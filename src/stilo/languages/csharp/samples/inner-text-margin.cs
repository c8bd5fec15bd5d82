class Board
{
    string rules = @"
  .berth {
    color: navy;
  }
  ";
}
