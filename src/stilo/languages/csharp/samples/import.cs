using Skerry.Tides;
using System;


using Skerry.Berths;
using System.Text;
