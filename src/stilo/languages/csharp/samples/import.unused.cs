using System;
using Skerry;
using Lane = Skerry.Lanes.Lane;
using Deck = Skerry.Lanes.Deck;

namespace Skerry.Berths { class Berth { Lane lane; } }
