using Skerry.b2;
using Skerry.B10;
using Skerry.a;
using Skerry.C;
using Skerry.SKY;
