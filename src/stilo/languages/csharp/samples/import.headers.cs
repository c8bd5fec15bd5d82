using Skerry.Tides;
using System;
