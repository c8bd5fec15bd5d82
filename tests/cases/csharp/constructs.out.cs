extern alias other;
using System;
using static System.Math;
using Lanes = System.Collections.Generic.List<int>;
[assembly: Registered("north")]

namespace Skerry.Inner
{
    [Serializable, Obsolete("old")]
    public abstract partial class Berth<T> : Base, IQuay where T : class, new()
    {
        private readonly int lane = 3, depth;
        public event EventHandler Moved;
        public event EventHandler Left
        {
            add { a(); }
            remove { b(); }
        }
        public const string Code = "x";
        public int Length { get; private set; } = 3;
        public string Name => name;
        public int Depth
        {
            get { return depth; }
            set { depth = value; }
        }
        public int Width { get => width; set => width = value; }

        public Berth(int lane) : base(lane) {}

        ~Berth() {}

        public static Berth operator +(Berth a, Berth b) => null;

        public static explicit operator int(Berth a) { return a.lane; }

        public int this[int i] { get => i; }

        void IQuay.Moor() {}

        [Test]
        public async Task<int> Run(ref int a, out int b, in int c, params string[] d)
        {
            var x = new Berth { Lane = 1, Sides = { 2 } };
            int[] y = { 1, 2 };
            var z = new[] { 1, 2 };
            var w = new int[4, 2];
            foreach (var i in y)
                Console.WriteLine($"a{i:X}b");
            for (int i = 0; i < 3; i++) {}
            while (true)
                break;
            do {} while (a);
            if (a is string s && s.Length > 0)
                return 1;
            else if (b) {}
            else {}
            switch (a)
            {
                case 1:
                case 2:
                    Moor();
                    break;
                case int n when n > 3:
                    {
                        Leave();
                        break;
                    }
                default:
                    break;
            }
            var f = a switch {
                1 => "a",
                _ => throw new Fault()
            };
            try {}
            catch (Fault e) when (e.IsFinal) {}
            catch {}
            finally {}
            using (var file = Open()) {}
            using var held = x;
            lock (this) {}
            var q = from c in list where c.A orderby c.B descending select new { c.A, N = c.B };
            list.Where(c => c.A).Select(c => { return c; }).ToList();
            x?.Moor();
            y ??= z ?? w;
            (int, string) t = (1, "a");
            var (k, v) = t;
            checked {}
            unsafe {}
            goto end;
        end:
            yield return 1;
            await Moor();
            var l = delegate (int p) { return p; };
            Func<int, int> g = async p => await p;
            object o = (object)x;
            var r = y[1..^2];
            var u = typeof(int);
            var m = x is { Lane: > 3 } or null;
            return a ? b : c;
        }

        enum Side : byte
        {
            Port = 1,
            Starboard
        }

        struct Place {}

        interface ITidal
        {
            void Rise();
            int Level { get; }
        }

        delegate void Told(int a);

        record Stay(int From, string Until);
    }
}
