using System;
using System.Collections;
using System.Collections.Concurrent;
using System.Collections.Generic;
using System.IO;
using System.Reflection;
using System.Reflection.Emit;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Text;
using System.Threading;

// One of everything that a heap can hold. "tell" prints what the program knows of itself, in lines
// "name = value"; what a dump of it says must be the same. "heap N" keeps N objects more.
namespace Oddities
{
    public enum Flag : byte { Down, Half, Up = 7 }
    public enum Draught : long { Shallow = -3, Deep = 40000000000 }

    public struct Span { public int From; public object Owner; public int To; public string Note; }
    public struct Outer { public byte Mark; public Span Inner; public Flag Flag; }
    public struct Pair<A, B> { public A First; public B Second; }

    public class Base { private int hidden = 11; public string Common = "common"; public int Hidden() { return hidden; } }
    public class Derived : Base
    {
        private long hidden = 12;
        public bool Open = true; public char Letter = 'ß'; public sbyte Small = -5; public byte Tiny = 250;
        public short Short = -3000; public ushort Wide = 60000; public int Number = -70000; public uint Count = 4000000000;
        public long Long = -5000000000; public ulong Huge = 18000000000000000000; public float Single = 1.5f; public double Double = -2.25;
        public Flag Flag = Flag.Up; public Draught Draught = Draught.Deep; public Flag Odd = (Flag)99;
        public Outer Outer; public Pair<string, Span> Pair; public DateTime When = new DateTime(2026, 3, 4, 5, 6, 7, DateTimeKind.Utc);
        public decimal Fee = 12.50m; public int? Maybe = 5; public int? Nothing; public Guid Id = new Guid("00112233-4455-6677-8899-aabbccddeeff");
        public TimeSpan Wait = TimeSpan.FromSeconds(90); public IntPtr Native = new IntPtr(77);
        public long Other() { return hidden; }
    }

    public class Crate<T>
    {
        public static T Last; public static int Made; public static Crate<T> Self;
        public T Content; public Pair<T, int>[] Pairs;
        public class Lid<U> { public T Left; public U Right; }
    }

    // two of one type, which a stream cannot tell apart, and others that it can
    public static class Rack<T>
    {
        public static List<T> Left = new List<T>(), Right = new List<T>();
        public static Dictionary<string, T[]> Pegs = new Dictionary<string, T[]>();
    }

    public static class Net<A, B> { public static Dictionary<A, List<B>> Knots = new Dictionary<A, List<B>>(); public static B Any; }

    public class Doomed
    {
        private readonly byte[] weight = new byte[100];
        public static readonly ManualResetEvent Gate = new ManualResetEvent(false);
        ~Doomed() { weight[0]++; Gate.WaitOne(); }
    }

    public class Board
    {
        public delegate int Turn(int height);
        public event Turn Turned;
        public int Factor = 3;
        public int Scale(int height) { return height * Factor; }
        public static int Plain(int height) { return height; }
        public int Fire() { return Turned(2); }
    }

    public static class Store
    {
        public static Derived Derived = new Derived();
        public static Outer Outer = new Outer { Mark = 5, Inner = new Span { From = 1, To = 9, Owner = new Base(), Note = "static note" }, Flag = Flag.Half };
        public static int Plain = 4711; public static double Real = 0.5; public static bool Yes = true; public static Flag Flag = Flag.Up;
        public static string Text = "a text of the store – with ünicode";
        public static object Boxed = 42; public static object BoxedFlag = Flag.Half; public static object BoxedSpan = new Span { From = 3, Owner = "owner of a box" };
        [ThreadStatic] public static object Mine; [ThreadStatic] public static int MyNumber;
        public static ThreadLocal<string> Local = new ThreadLocal<string>(() => "local value");
        public static List<string> List = new List<string> { "eins", "zwei", "drei" };
        public static Dictionary<string, int> Map = new Dictionary<string, int> { { "anchor", 1 }, { "buoy", 2 }, { "chain", 3 } };
        public static Dictionary<int, Base> Bases = new Dictionary<int, Base>();
        public static HashSet<string> Set = new HashSet<string> { "north", "south" };
        public static Queue<string> Queue = new Queue<string>(); public static Stack<string> Stack = new Stack<string>();
        public static LinkedList<string> Linked = new LinkedList<string>(); public static SortedDictionary<string, string> Sorted = new SortedDictionary<string, string>();
        public static SortedList<string, string> SortedList = new SortedList<string, string>();
        public static ConcurrentDictionary<string, string> Concurrent = new ConcurrentDictionary<string, string>();
        public static ConcurrentQueue<string> ConcurrentQueue = new ConcurrentQueue<string>(); public static ConcurrentBag<string> Bag = new ConcurrentBag<string>();
        public static ConcurrentStack<string> ConcurrentStack = new ConcurrentStack<string>();
        public static Hashtable Hashtable = new Hashtable(); public static ArrayList ArrayList = new ArrayList { "old", 7 };
        public static StringBuilder Builder = new StringBuilder("built");
        public static object Immutable, ImmutableMap;
        public static int[,] Plane = new int[3, 4]; public static object[,,] Cube = new object[2, 3, 2]; public static string[][] Jagged = { new[] { "j0" }, null, new[] { "j2a", "j2b" } };
        public static Array Shifted = Array.CreateInstance(typeof(string), new[] { 3 }, new[] { 5 });
        public static Span[] Spans = new Span[6]; public static Pair<string, Outer>[] Deep = new Pair<string, Outer>[4]; public static object[] Objects = { "o", 1, null, new int[2] };
        public static Flag[] Flags = { Flag.Up, Flag.Down }; public static double[] Reals = { 1.25, -2.5 }; public static char[] Chars = { 'a', 'ß' }; public static bool[] Bools = { true, false };
        public static byte[] Large = new byte[200000]; public static string[] Empty = new string[0];
        public static ConditionalWeakTable<object, string> Weak = new ConditionalWeakTable<object, string>(); public static object WeakKey = new object();
        public static WeakReference Gone = new WeakReference(new Base()); public static WeakReference<Derived> Here = new WeakReference<Derived>(Derived); public static WeakReference Kept = new WeakReference(Text, true);
        public static Board Board = new Board(); public static Func<int> Closure; public static Board.Turn Static = Board.Plain;
        public static Crate<string>.Lid<int> Lid = new Crate<string>.Lid<int> { Left = "lid", Right = 6 };
        public static Crate<Crate<Derived>> Nested = new Crate<Crate<Derived>> { Content = new Crate<Derived> { Content = Derived, Pairs = new Pair<Derived, int>[2] } };
        public static Type Type = typeof(Dictionary<string, Crate<int>>); public static List<object> Kept2 = new List<object>();
        public static Thread Thread; public static Lazy<string> Lazy = new Lazy<string>(() => "lazy");
        public static object Emitted, Collected, Copy;
        public static Tuple<string, int> Tuple = System.Tuple.Create("tuple", 8);
    }

    public class Leaf { public object Left, Right; public int Number; }

    public static class Program
    {
        [MethodImpl(MethodImplOptions.NoInlining)]
        static void Drop() { for (int i = 0; i < 60; i++) new Doomed(); }

        static object Emit(string name, AssemblyBuilderAccess access)
        {
            ModuleBuilder module = AssemblyBuilder.DefineDynamicAssembly(new AssemblyName(name), access).DefineDynamicModule("m");
            TypeBuilder builder = module.DefineType("Emitted." + name, TypeAttributes.Public);
            builder.DefineField("Label", typeof(string), FieldAttributes.Public);
            builder.DefineField("Depth", typeof(int), FieldAttributes.Public);
            Type type = builder.CreateType();
            object buoy = Activator.CreateInstance(type);
            type.GetField("Label").SetValue(buoy, "label of " + name);
            type.GetField("Depth").SetValue(buoy, 12);
            return buoy;
        }

        [MethodImpl(MethodImplOptions.NoInlining)]
        static void Fill()
        {
            Rack<Derived>.Left.Add(Store.Derived); Rack<Board>.Right.Add(Store.Board); Rack<Board>.Left = null;
            Rack<Base>.Pegs["peg"] = new Base[2]; Net<string, Derived>.Knots["knot"] = new List<Derived>(); Net<int, Base>.Knots[3] = null; Net<int, Base>.Any = new Base();
            Store.Derived.Outer = new Outer { Mark = 200, Inner = new Span { From = 10, To = 20, Owner = Store.List, Note = "inner note" }, Flag = Flag.Up };
            Store.Derived.Pair = new Pair<string, Span> { First = "first", Second = new Span { From = 7, Owner = Store.Set, Note = "second note" } };
            for (int i = 0; i < 5; i++) Store.Bases[i * 10] = i % 2 == 0 ? new Base() : new Derived();
            Store.Map.Remove("buoy");
            foreach (string s in new[] { "q1", "q2", "q3" }) { Store.Queue.Enqueue(s); Store.Stack.Push(s); Store.Linked.AddLast(s); Store.Sorted[s] = s + "v"; Store.SortedList[s] = s + "w"; Store.Concurrent[s] = s + "x"; Store.ConcurrentQueue.Enqueue(s); Store.Bag.Add(s); Store.ConcurrentStack.Push(s); Store.Hashtable[s] = s + "h"; }
            Store.Queue.Dequeue(); Store.Queue.Enqueue("q4");
            Store.Builder.Append(" up"); Store.Plane[1, 2] = 12; Store.Cube[1, 2, 1] = "corner"; Store.Shifted.SetValue("sixth", 6);
            for (int i = 0; i < Store.Spans.Length; i++) Store.Spans[i] = new Span { From = i, To = -i, Owner = "span " + i, Note = i % 2 == 0 ? null : "n" + i };
            for (int i = 0; i < Store.Deep.Length; i++) Store.Deep[i] = new Pair<string, Outer> { First = "deep " + i, Second = new Outer { Inner = new Span { Owner = new object(), Note = "dn" + i } } };
            Store.Weak.Add(Store.WeakKey, "weakly " + 1);
            Store.Board.Turned += Store.Board.Scale; Store.Board.Turned += Board.Plain;
            string captured = "captured " + Store.Plain; Store.Closure = () => captured.Length;
            Crate<string>.Last = "last string"; Crate<string>.Made = 3; Crate<int>.Last = 9; Crate<int>.Self = new Crate<int>(); Crate<Derived>.Last = Store.Derived;
            Store.Mine = "mine of main"; Store.MyNumber = 33;
            GCHandle.Alloc(new Leaf { Number = 1 }, GCHandleType.Normal); GCHandle.Alloc(new byte[10], GCHandleType.Pinned);
            GCHandle.Alloc(Store.Derived, GCHandleType.Weak); GCHandle.Alloc(Store.Derived, GCHandleType.WeakTrackResurrection);
            Store.Emitted = Emit("Buoy", AssemblyBuilderAccess.Run);
            Store.Collected = Emit("Float", AssemblyBuilderAccess.RunAndCollect);
            Store.Copy = Activator.CreateInstance(Assembly.Load(File.ReadAllBytes(typeof(Program).Assembly.Location)).GetType("Oddities.Base"));
            Type list = Type.GetType("System.Collections.Immutable.ImmutableArray, System.Collections.Immutable");
            if (list != null)
            {
                foreach (MethodInfo m in Type.GetType("System.Collections.Immutable.ImmutableList, System.Collections.Immutable").GetMethods())
                    if (m.Name == "CreateRange" && m.GetParameters().Length == 1 && m.GetParameters()[0].ParameterType.Name.StartsWith("IEnumerable")) Store.Immutable = m.MakeGenericMethod(typeof(string)).Invoke(null, new object[] { new[] { "i1", "i2" } });
                foreach (MethodInfo m in Type.GetType("System.Collections.Immutable.ImmutableDictionary, System.Collections.Immutable").GetMethods())
                    if (m.Name == "CreateRange" && m.GetParameters().Length == 1 && m.IsGenericMethod) { object o = m.MakeGenericMethod(typeof(string), typeof(string)).Invoke(null, new object[] { Store.Sorted }); Store.ImmutableMap = o; }
            }
        }

        static void Stand(object state)
        {
            object onStack = new Leaf { Number = 77, Left = "on the stack of a thread" };
            Store.Mine = new Leaf { Number = 78 }; Store.MyNumber = 44; string local = Store.Local.Value;
            ((ManualResetEvent)state).Set();
            Thread.Sleep(Timeout.Infinite);
            GC.KeepAlive(onStack); GC.KeepAlive(local);
        }

        static void Tell()
        {
            Derived d = Store.Derived;
            foreach (FieldInfo f in typeof(Derived).GetFields()) if (f.FieldType.IsPrimitive || f.FieldType.IsEnum || f.FieldType == typeof(string)) Console.WriteLine("Derived." + f.Name + " = " + Convert.ToString(f.GetValue(d), System.Globalization.CultureInfo.InvariantCulture));
            Console.WriteLine("Derived.hidden = " + d.Other()); Console.WriteLine("Base.hidden = " + d.Hidden());
            foreach (FieldInfo f in typeof(Store).GetFields()) if (f.FieldType.IsPrimitive || f.FieldType.IsEnum || f.FieldType == typeof(string)) Console.WriteLine("Store." + f.Name + " = " + Convert.ToString(f.GetValue(null), System.Globalization.CultureInfo.InvariantCulture));
        }

        public static void Main(string[] args)
        {
            Fill(); Drop();
            ManualResetEvent stands = new ManualResetEvent(false);
            Store.Thread = new Thread(Stand) { IsBackground = true, Name = "lookout" }; Store.Thread.Start(stands); stands.WaitOne();
            GC.Collect(); GC.WaitForFullGCComplete(0); GC.Collect();
            Console.WriteLine("ready");
            for (string line = Console.ReadLine(); line != null; line = Console.ReadLine())
            {
                if (line == "tell") Tell();
                if (line.StartsWith("heap ")) { int n = int.Parse(line.Substring(5)); Leaf last = null; for (int i = 0; i < n; i++) last = new Leaf { Left = last, Right = i % 4 == 0 ? "leaf " + i : null, Number = i }; Store.Kept2.Add(last); }
                if (line.StartsWith("garbage ")) { int n = int.Parse(line.Substring(8)); for (int i = 0; i < n; i++) new Leaf { Number = i }; }
                Console.WriteLine("done");
            }
            GC.KeepAlive(Store.Board.Fire());
        }
    }
}
