using System;
using System.Collections.Generic;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Threading;

// A program of one file; "act N" subscribes N watches more, which nobody takes off again.
namespace PortMerrow
{
    public struct Mark { public string Name; public long Height; public object Owner; }

    public class Watch
    {
        private readonly long[] notes = new long[12];
        public void Seen(object sender, EventArgs e) { notes[0]++; }
    }

    public class Tower
    {
        public event EventHandler Tide;
        public void Turn() { if (Tide != null) Tide(this, EventArgs.Empty); }
    }

    // its finalizer never ends, so that the others wait for theirs
    public class Wreck
    {
        private readonly byte[] weight = new byte[100];
        ~Wreck() { weight[0]++; Thread.Sleep(Timeout.Infinite); }
    }

    public static class Harbour
    {
        [ThreadStatic] private static object mine;
        private static readonly Tower tower = new Tower();
        private static readonly Mark[] marks = new Mark[10000];
        private static readonly byte[] chart = new byte[200000];
        private static readonly Dictionary<int, string> berths = new Dictionary<int, string>();
        private static readonly string[][] boards = { new[] { "tide" }, null, new string[3] };
        private static GCHandle held, pinned;

        [MethodImpl(MethodImplOptions.NoInlining)]
        private static void Drop() { for (int i = 0; i < 60; i++) new Wreck(); }

        public static void Main()
        {
            Drop();
            mine = new object();
            for (int i = 0; i < marks.Length; i += 7) marks[i] = new Mark { Name = "mark " + i, Height = i, Owner = tower };
            for (int i = 0; i < 500; i++) berths[i] = "berth " + i;
            held = GCHandle.Alloc(new Watch());
            pinned = GCHandle.Alloc(new byte[64], GCHandleType.Pinned);
            Console.WriteLine("ready");
            for (string line; (line = Console.ReadLine()) != null;)
            {
                for (int n = int.Parse(line.Substring(4)); n > 0; n--) tower.Tide += new Watch().Seen;
                Console.WriteLine("done");
            }
            GC.KeepAlive(mine);
            GC.KeepAlive(chart);
            GC.KeepAlive(boards);
            held.Free();
            pinned.Free();
        }
    }
}
