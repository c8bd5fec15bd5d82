using Skerry.Line.Tides;
using System.Linq;
using System;
using System.Collections.Generic;
using Skerry.Line.Berths;

namespace Skerry.Line.Tickets {
    /// <summary>A ticket for one sailing.</summary>
    [Serializable] [Table("tickets",Schema="office")] public class Ticket:Document,IComparable<Ticket>,IPriced {
        private readonly decimal price; private const int MaxLanes=14;
        public Ticket(string passenger,Sailing sailing,decimal price):base(passenger) { this.price=price; Sailing=sailing??throw new ArgumentNullException(nameof(sailing)); }

        public Sailing Sailing { get; private set; }
        public string Code { get { return $"{Sailing.Number:0000}-{Passenger[0]}"; } set { Note( value ); } }
        public decimal Price=>price*(1-Discount);
        public decimal Discount { get; set; } = 0.1m;
        public event EventHandler<SoldEventArgs> Sold;

#region Fares
        public static Fare FareOf(Deck deck,int lanes) => deck switch { Deck.Upper when lanes>2 => Fare.High, Deck.Upper or Deck.Main=>Fare.Middle, _=>Fare.Low };
#if WINTER
        public const decimal Surcharge=4.20m;
#else
        public  const decimal Surcharge = 0;
#endif
#endregion
        public int CompareTo(Ticket other) { if(other is null) return 1; return Price.CompareTo( other.Price ); }

        public IEnumerable<string> Manifest<TVehicle>(IEnumerable<TVehicle> vehicles,Func<TVehicle,bool> isAboard) where TVehicle:Vehicle,new() {
            var names=from vehicle in vehicles where isAboard(vehicle) && vehicle.Length>0 orderby vehicle.Lane descending,vehicle.Plate select vehicle.Plate+" of "+vehicle.Owner;
            var totals = vehicles.Where(v=>v.Length>6).GroupBy(v=>v.Lane).Select(g=>new { Lane=g.Key, Length=g.Sum(v=>v.Length) }).OrderBy(x=>x.Lane).ToList();
            using(var log=Office.Open("manifest")) lock(log) {
                foreach(var total in totals) { try { log.Write(total.Lane,total.Length); } catch(OfficeClosedException e) when (e.IsFinal) { throw; } finally { log.Flush(); } }
            }
            Sold?.Invoke(this,new SoldEventArgs { Ticket=this, At=DateTime.Now, Office="north quay", Seller=new Seller { Name="Ada", Desk=4 } });
            return names;
        }
    }
    public enum Deck:byte { Upper=1,Main,Lower }
}
