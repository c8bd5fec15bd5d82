namespace Skerry
{

    class Berth { }

}
