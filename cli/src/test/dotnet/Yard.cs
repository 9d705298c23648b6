using System;
using System.Collections.Generic;
using System.Reflection;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Threading;
using System.Threading.Tasks;

// Small programs with a known culprit, or with none. Told what to do line by line: "act N" does the
// action N times, "release" empties the holder at fault; every line is answered with "done".
namespace Yard
{
    public abstract class Program
    {
        public abstract void Act(int number);
        public virtual void Release() { }

        public static int Churn(int number)
        {
            string text = "";
            for (int i = 0; i < 60; i++) text += "gust " + i * number + " ";
            return text.Length;
        }

        public static void Main(string[] args)
        {
            Type type = Assembly.GetExecutingAssembly().GetType("Yard." + args[0]);
            Program program = (Program)Activator.CreateInstance(type);
            Console.WriteLine("ready");
            int done = 0;
            for (string line = Console.ReadLine(); line != null; line = Console.ReadLine())
            {
                if (line.StartsWith("act "))
                    for (int left = int.Parse(line.Substring(4)); left > 0; left--) { Churn(done); program.Act(done++); }
                if (line == "release") program.Release();
                Console.WriteLine("done");
            }
            Environment.Exit(0);
        }
    }

    public class StaticList : Program
    {
        public class Lantern { public byte[] Oil = new byte[2000]; }
        private static readonly List<Lantern> Lit = new List<Lantern>();
        public override void Act(int number) { Lit.Add(new Lantern()); }
        public override void Release() { Lit.Clear(); }
    }

    public class EventHandlers : Program
    {
        public delegate void Flash();
        public class Beacon { public event Flash Flashed; public void Off() { Flashed = null; } }
        public class Watch
        {
            private readonly byte[] log = new byte[1500];
            public void Seen() { log[0]++; }
        }
        private readonly Beacon beacon = new Beacon();
        public override void Act(int number) { beacon.Flashed += new Watch().Seen; }
        public override void Release() { beacon.Off(); }
    }

    public class TimerCallbacks : Program
    {
        public class Reminder
        {
            private readonly byte[] text = new byte[1500];
            private Timer timer;
            public Reminder() { timer = new Timer(Ring, null, 3600 * 1000, Timeout.Infinite); }
            private void Ring(object state) { text[0]++; timer = null; }
            public void Stop() { timer.Dispose(); }
        }
        private static readonly List<WeakReference> Set = new List<WeakReference>();
        public override void Act(int number) { Set.Add(new WeakReference(new Reminder())); }
        public override void Release()
        {
            foreach (WeakReference one in Set) { Reminder reminder = (Reminder)one.Target; if (reminder != null) reminder.Stop(); }
        }
    }

    // five references of the runtime's own types lie between a timer and what is to be told
    public class Deadlines : Program
    {
        public class Pilot
        {
            private readonly byte[] kit = new byte[1400];
            public void Late() { kit[0]++; }
        }
        private static readonly List<WeakReference> Set = new List<WeakReference>();
        public override void Act(int number)
        {
            CancellationTokenSource deadline = new CancellationTokenSource(3600000);
            deadline.Token.Register(new Pilot().Late);
            Set.Add(new WeakReference(deadline));
        }
        public override void Release()
        {
            foreach (WeakReference one in Set)
                if (one.Target is CancellationTokenSource deadline) deadline.Dispose();
            Set.Clear();
        }
    }

    // whoever has one timer can reach all of its processor's
    public class Rounds : Program
    {
        public class Watch
        {
            private readonly byte[] notes = new byte[1500];
            private readonly Timer timer;
            public Watch() { timer = new Timer(Walk, null, 3600000, 3600000); }
            private void Walk(object state) { notes[0]++; }
            public void Stop() { timer.Dispose(); }
        }
        private static readonly Timer Beat = new Timer(delegate { }, null, 3600000, 3600000);
        private static readonly List<WeakReference> Set = new List<WeakReference>();
        public override void Act(int number)
        {
            Thread clerk = new Thread(delegate() { Set.Add(new WeakReference(new Watch())); });
            clerk.Start();
            clerk.Join();
        }
        public override void Release()
        {
            foreach (WeakReference one in Set)
                if (one.Target is Watch watch) watch.Stop();
            Set.Clear();
            GC.KeepAlive(Beat);
        }
    }

    public class Closures : Program
    {
        public class Voyage { public byte[] Chart = new byte[1500]; }
        private static readonly List<Action> Hooks = new List<Action>();
        public override void Act(int number)
        {
            Voyage voyage = new Voyage();
            Hooks.Add(() => voyage.Chart[0]++);
        }
        public override void Release() { Hooks.Clear(); }
    }

    public class WeakTable : Program
    {
        public class Papers { public byte[] Seal = new byte[1500]; }
        public class Harbour { }
        private static readonly Harbour Home = new Harbour();
        private static readonly ConditionalWeakTable<Harbour, List<Papers>> Attached = new ConditionalWeakTable<Harbour, List<Papers>>();
        public override void Act(int number) { Attached.GetOrCreateValue(Home).Add(new Papers()); }
        public override void Release() { Attached.GetOrCreateValue(Home).Clear(); }
    }

    public class ThreadStatics : Program
    {
        public class Note { public byte[] Text = new byte[1500]; }
        [ThreadStatic] private static List<Note> notes;
        public override void Act(int number)
        {
            if (notes == null) notes = new List<Note>();
            notes.Add(new Note());
        }
        public override void Release() { notes.Clear(); }
    }

    public class ThreadLocals : Program
    {
        public class Sketch { public byte[] Lines = new byte[1500]; }
        private static readonly ThreadLocal<List<Sketch>> Sketches = new ThreadLocal<List<Sketch>>(() => new List<Sketch>());
        public override void Act(int number) { Sketches.Value.Add(new Sketch()); }
        public override void Release() { Sketches.Value.Clear(); }
    }

    // what follows a flow of work is in a map of its own, by the variable
    public class Flow : Program
    {
        public class Leg { public byte[] Chart = new byte[1500]; }
        private static readonly AsyncLocal<List<Leg>> Voyage = new AsyncLocal<List<Leg>>();
        public override void Act(int number)
        {
            if (Voyage.Value == null) Voyage.Value = new List<Leg>();
            Voyage.Value.Add(new Leg());
        }
        public override void Release() { Voyage.Value.Clear(); }
    }

    // each time from a copy of the assembly, in a context that nobody unloads
    public class Contexts : Program
    {
        public class Chart { public byte[] Sea = new byte[200]; }
        private static readonly List<object> Charts = new List<object>();
        protected virtual Assembly Load(System.IO.Stream image)
        {
            Type type = Type.GetType("System.Runtime.Loader.AssemblyLoadContext, System.Runtime.Loader");
            object context = Activator.CreateInstance(type, "charts", true);
            return (Assembly)type.GetMethod("LoadFromStream", new[] { typeof(System.IO.Stream) }).Invoke(context, new object[] { image });
        }
        public override void Act(int number)
        {
            byte[] image = System.IO.File.ReadAllBytes(typeof(Contexts).Assembly.Location);
            Assembly copy = Load(new System.IO.MemoryStream(image));
            Charts.Add(Activator.CreateInstance(copy.GetType("Yard.Contexts+Chart")));
        }
        public override void Release() { Charts.Clear(); }
    }

    // the same in contexts that stay for good
    public class Copies : Contexts
    {
        protected override Assembly Load(System.IO.Stream image)
        {
            byte[] bytes = new byte[image.Length];
            image.Read(bytes, 0, bytes.Length);
            return Assembly.Load(bytes);
        }
    }

    public class SmallLists : Program
    {
        public class Parcel { public byte[] Paper = new byte[300]; }
        private readonly Dictionary<string, List<Parcel>> byQuay = new Dictionary<string, List<Parcel>>();
        public override void Act(int number)
        {
            List<Parcel> list;
            if (!byQuay.TryGetValue("quay " + number / 4, out list)) byQuay["quay " + number / 4] = list = new List<Parcel>();
            list.Add(new Parcel());
        }
        public override void Release() { byQuay.Clear(); }
    }

    public class PinnedBuffers : Program
    {
        private static readonly List<IntPtr> Kept = new List<IntPtr>();
        public override void Act(int number)
        {
            Kept.Add(GCHandle.ToIntPtr(GCHandle.Alloc(new byte[1500], GCHandleType.Pinned)));
        }
        public override void Release()
        {
            foreach (IntPtr one in Kept) GCHandle.FromIntPtr(one).Free();
            Kept.Clear();
        }
    }

    public class Handles : Program
    {
        public class Buoy { public byte[] Paint = new byte[1500]; }
        private static readonly List<IntPtr> Kept = new List<IntPtr>();
        public override void Act(int number) { Kept.Add(GCHandle.ToIntPtr(GCHandle.Alloc(new Buoy()))); }
        public override void Release()
        {
            foreach (IntPtr one in Kept) GCHandle.FromIntPtr(one).Free();
            Kept.Clear();
        }
    }

    public class LargeObjects : Program
    {
        private static readonly Dictionary<int, byte[]> Charts = new Dictionary<int, byte[]>();
        public override void Act(int number) { Charts[number] = new byte[100000]; }
        public override void Release() { Charts.Clear(); }
    }

    public class BlockedFinalizer : Program
    {
        private static readonly ManualResetEvent Gate = new ManualResetEvent(false);
        public class Crane
        {
            private readonly byte[] rope = new byte[1500];
            ~Crane() { rope[0]++; Gate.WaitOne(); }
        }
        private static void Use() { new Crane(); }
        public override void Act(int number) { Use(); }
        public override void Release() { Gate.Set(); GC.Collect(); GC.WaitForPendingFinalizers(); }
    }

    public class NeverCompleted : Program
    {
        public class Crossing { public byte[] Log = new byte[1500]; }
        private static TaskCompletionSource<bool> lockGate = new TaskCompletionSource<bool>();
        private static async Task Pass(Crossing crossing)
        {
            await lockGate.Task;
            crossing.Log[0]++;
        }
        public override void Act(int number) { Pass(new Crossing()); }
        public override void Release() { lockGate.SetResult(true); lockGate = new TaskCompletionSource<bool>(); }
    }

    public class Registrations : Program
    {
        public class Berth
        {
            private readonly byte[] plan = new byte[1500];
            public void Close() { plan[0]++; }
        }
        private static CancellationTokenSource closing = new CancellationTokenSource();
        public override void Act(int number) { closing.Token.Register(new Berth().Close); }
        public override void Release() { closing = new CancellationTokenSource(); }
    }

    // many have a handle to the list that a framework's token keeps, and none of them is its holder
    public class Linked : Program
    {
        public class Berth
        {
            private readonly byte[] plan = new byte[1500];
            public void Close() { plan[0]++; }
        }
        public class Mast
        {
            private readonly CancellationTokenSource linked;
            public Mast(CancellationToken stop) { linked = CancellationTokenSource.CreateLinkedTokenSource(stop); }
        }
        private static readonly Mast mast = new Mast(Microsoft.Merrow.Host.Running.Lifetime.Stopping);
        private static readonly List<Task> waits = new List<Task>();
        public override void Act(int number)
        {
            CancellationToken stop = Microsoft.Merrow.Host.Running.Lifetime.Stopping;
            if (number == 2) waits.Add(Task.Delay(-1, stop));
            CancellationTokenSource.CreateLinkedTokenSource(stop).Token.Register(new Berth().Close);
        }
        public override void Release() { Microsoft.Merrow.Host.Running.Lifetime.Stop(); GC.KeepAlive(mast); }
    }

    // what waits somewhere leads to the framework that started it, and so to all that this has
    public class Wired : Program
    {
        public class Lantern { public byte[] Oil = new byte[1500]; }
        private static readonly Queue<object> Waiting = new Queue<object>();
        public override void Act(int number)
        {
            if (Waiting.Count == 0) Waiting.Enqueue(Tuple.Create<object>(Microsoft.Merrow.Host.Running.Scope));
            Microsoft.Merrow.Host.Running.Scope.Add(new Lantern());
        }
        public override void Release() { Microsoft.Merrow.Host.Running.Scope.Clear(); }
    }

    // a library's object has them for the program, and native code has them in hand as well
    public class Lent : Program
    {
        public class Parcel { public byte[] Paper = new byte[1500]; }
        private static readonly Microsoft.Merrow.Ledger Ledger = new Microsoft.Merrow.Ledger();
        public override void Act(int number)
        {
            if (Ledger.Kept == null)
            {
                List<Parcel> parcels = new List<Parcel>();
                Ledger.Kept = Tuple.Create(parcels);
                GCHandle.Alloc(Tuple.Create(parcels));
            }
            Ledger.Kept.Item1.Add(new Parcel());
        }
        public override void Release() { Ledger.Kept.Item1.Clear(); }
    }

    // code is loaded anew each time: the runtime unloads none of it
    public class LoadedAgain : Program
    {
        private static byte[] code;
        public override void Act(int number)
        {
            code = code ?? System.IO.File.ReadAllBytes(Assembly.GetExecutingAssembly().Location);
            Assembly.Load(code);
        }
    }

    public class Watchmen : Program
    {
        public class Round { public byte[] Steps = new byte[1500]; }
        private static readonly ManualResetEvent Over = new ManualResetEvent(false);
        private static int alive;
        private static void Walk(Round round)
        {
            Over.WaitOne();
            round.Steps[0]++;
            Interlocked.Decrement(ref alive);
        }
        public override void Act(int number)
        {
            Interlocked.Increment(ref alive);
            new Thread(() => Walk(new Round())) { IsBackground = true }.Start();
        }
        public override void Release()
        {
            Over.Set();
            while (Volatile.Read(ref alive) > 0) Thread.Sleep(1);
        }
    }

    public class Chain : Program
    {
        public class Entry { public Entry Next; public byte[] Line = new byte[800]; }
        public class Journal { public Entry First; }
        private readonly Journal journal = new Journal();
        public override void Act(int number) { journal.First = new Entry { Next = journal.First }; }
        public override void Release() { journal.First = null; }
    }

    public class OwnCollection : Program
    {
        public class Crate { public byte[] Goods = new byte[1200]; }
        public class Store
        {
            private Crate[] crates = new Crate[8];
            private int count;
            public void Put(Crate crate)
            {
                if (count == crates.Length) Array.Resize(ref crates, 2 * count);
                crates[count++] = crate;
            }
            public void Clear() { crates = new Crate[8]; count = 0; }
        }
        private static readonly Store Shed = new Store();
        public override void Act(int number) { Shed.Put(new Crate()); }
        public override void Release() { Shed.Clear(); }
    }

    // the event stream does not tell of variables of generic types: their names are inferred
    public class OfAnyType : Program
    {
        public class Parcel { public byte[] Paper = new byte[1300]; }
        public static class Hold<T> { public static readonly List<T> Stowed = new List<T>(); }
        public override void Act(int number) { Hold<Parcel>.Stowed.Add(new Parcel()); }
        public override void Release() { Hold<Parcel>.Stowed.Clear(); }
    }

    // the variable refers to what piles up itself, and nothing stands between
    public class OwnTree : Program
    {
        public class Branch { public Branch Left, Right; public byte[] Leaves = new byte[1200]; }
        private static Branch stem;
        public override void Act(int number)
        {
            Branch grown = new Branch();
            if (stem == null) { stem = grown; return; }
            Branch at = stem;
            for (int way = (number + 1) / 2; ; way /= 2)
            {
                bool left = way % 2 == 0;
                Branch next = left ? at.Left : at.Right;
                if (next == null) { if (left) at.Left = grown; else at.Right = grown; return; }
                at = next;
            }
        }
        public override void Release() { stem = null; }
    }

    public class InternedTexts : Program
    {
        public override void Act(int number) { string.Intern("mooring line number " + number + " of the outer quay"); }
    }

    public class BoundedCache : Program
    {
        private readonly Queue<byte[]> last = new Queue<byte[]>();
        public override void Act(int number) { last.Enqueue(new byte[2000]); if (last.Count > 10) last.Dequeue(); }
    }

    public class OnlyChurn : Program
    {
        public override void Act(int number) { for (int i = 0; i < 20; i++) Churn(number + i); }
    }

    public class WarmUp : Program
    {
        private static readonly Dictionary<int, byte[]> Known = new Dictionary<int, byte[]>();
        public override void Act(int number) { Known[number % 9] = new byte[3000]; }
    }

    public class Swing : Program
    {
        private readonly List<byte[]> quay = new List<byte[]>();
        public override void Act(int number) { quay.Add(new byte[1500]); if (quay.Count > 5) quay.Clear(); }
    }
}

// stands for a framework that the program runs in: its own types are called as such are
namespace Microsoft.Merrow
{
    public sealed class Lifetime
    {
        private readonly CancellationTokenSource stopping = new CancellationTokenSource();
        public CancellationToken Stopping { get { return stopping.Token; } }
        public void Stop() { stopping.Cancel(); }
    }

    public sealed class Ledger
    {
        public Tuple<List<Yard.Lent.Parcel>> Kept;
    }

    public sealed class Host
    {
        public static readonly Host Running = new Host();
        public readonly Lifetime Lifetime = new Lifetime();
        public readonly Microsoft.Extensions.DependencyInjection.ServiceLookup.ServiceProviderEngineScope Scope =
            new Microsoft.Extensions.DependencyInjection.ServiceLookup.ServiceProviderEngineScope();
    }
}

namespace Microsoft.Extensions.DependencyInjection.ServiceLookup
{
    public sealed class ServiceProviderEngineScope
    {
        private readonly List<object> _disposables = new List<object>();
        public void Add(object one) { _disposables.Add(one); }
        public void Clear() { _disposables.Clear(); }
    }
}
