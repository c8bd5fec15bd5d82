class Berth
{

    int lane;

}
