namespace Skerry
{
    class Ferry {}
    using Tides;


    using Berths;
}
