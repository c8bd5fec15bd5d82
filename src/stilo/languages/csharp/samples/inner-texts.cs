class Board
{
    string rules = @"
        .berth { color: navy; margin: 0 }
        ";
    Rows rows = data.Query<Row>(@"
        .berth { color: navy; margin: 0 }
        ");
}
