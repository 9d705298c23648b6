using System;
using System.Collections.Generic;
using System.IO;
using System.Net;
using System.Net.Sockets;
using System.Text;
using System.Threading;

// The harbour office as a .NET service: a day passes for each line "day" (or "days N") on its input,
// and for each request to /day (or /days/N) on its loopback port.
namespace PortMerrow
{
    public class CargoLine
    {
        public readonly string Goods;
        public readonly int Crates;
        public CargoLine(string goods, int crates) { Goods = goods; Crates = crates; }
    }

    public class Manifest
    {
        public readonly List<CargoLine> Lines = new List<CargoLine>();
    }

    public class VesselCall
    {
        public readonly string Vessel;
        public readonly Manifest Manifest;
        public double LastTide;
        public VesselCall(string vessel, Manifest manifest) { Vessel = vessel; Manifest = manifest; }
        public void TideTurned(double height) { LastTide = height; }
    }

    public delegate void TideHandler(double height);

    public class TideBoard
    {
        public event TideHandler Turned;
        public void Turn(double height) { if (Turned != null) Turned(height); }
    }

    // Large, and constant: no leak.
    public class ChartLibrary
    {
        private readonly int[][] soundings = new int[12][];
        public ChartLibrary() { for (int i = 0; i < soundings.Length; i++) soundings[i] = new int[60000]; }
        public int Depth(int chart, int place) { return soundings[chart % 12][place % 60000]; }
    }

    // Bounded: no leak.
    public class EventLog
    {
        private readonly Queue<string> lines = new Queue<string>();
        public void Note(string line)
        {
            lines.Enqueue(line);
            if (lines.Count > 500) lines.Dequeue();
        }
    }

    public class HarbourOffice
    {
        private const int CallsADay = 40;
        private readonly TideBoard tideBoard = new TideBoard();
        private readonly ChartLibrary charts = new ChartLibrary();
        private readonly EventLog log = new EventLog();
        private readonly bool isFixed;
        private int vessels;
        private int days;

        public HarbourOffice(bool isFixed) { this.isFixed = isFixed; }

        public string RunDay()
        {
            days++;
            for (int i = 0; i < CallsADay; i++)
            {
                VesselCall call = Arrive();
                charts.Depth(days, i);
                Leave(call);
            }
            tideBoard.Turn(days % 7);
            return "day " + days + ": " + vessels + " vessels";
        }

        private VesselCall Arrive()
        {
            string vessel = "MV Example " + ++vessels;
            Manifest manifest = new Manifest();
            for (int i = 0; i < 18; i++) manifest.Lines.Add(new CargoLine("goods " + vessels + "/" + i, i));
            VesselCall call = new VesselCall(vessel, manifest);
            tideBoard.Turned += call.TideTurned;
            log.Note("arrived: " + vessel);
            return call;
        }

        private void Leave(VesselCall call)
        {
            log.Note("left: " + call.Vessel);
            // what departs must not stay subscribed
            if (isFixed) tideBoard.Turned -= call.TideTurned;
        }
    }

    public static class Program
    {
        private static HarbourOffice office;

        private static string Obey(string line)
        {
            if (line == "day") return office.RunDay();
            string[] words = line.Split(' ', '/');
            int count;
            if (words.Length == 2 && words[0] == "days" && int.TryParse(words[1], out count))
            {
                string last = "";
                for (int i = 0; i < count; i++) last = office.RunDay();
                return last;
            }
            return "say: day, days N, quit";
        }

        private static void Serve(TcpListener listener)
        {
            while (true)
            {
                using (TcpClient client = listener.AcceptTcpClient())
                using (NetworkStream stream = client.GetStream())
                {
                    StreamReader reader = new StreamReader(stream);
                    string first = reader.ReadLine() ?? "";
                    for (string line = first; !string.IsNullOrEmpty(line); line = reader.ReadLine()) { }
                    string[] words = first.Split(' ');
                    string reply;
                    lock (typeof(Program)) reply = Obey(words.Length > 1 ? words[1].Substring(1) : "") + "\n";
                    byte[] bytes = Encoding.UTF8.GetBytes("HTTP/1.1 200 OK\r\nContent-Length: " + reply.Length
                        + "\r\nConnection: close\r\n\r\n" + reply);
                    stream.Write(bytes, 0, bytes.Length);
                }
            }
        }

        public static void Main(string[] args)
        {
            int port = 0;
            for (int i = 0; i + 1 < args.Length; i++) if (args[i] == "--port") port = int.Parse(args[i + 1]);
            office = new HarbourOffice(Array.IndexOf(args, "--fixed") >= 0);
            TcpListener listener = new TcpListener(IPAddress.Loopback, port);
            listener.Start();
            Thread server = new Thread(() => Serve(listener));
            server.IsBackground = true;
            server.Start();
            Console.WriteLine("Port Merrow is open at http://127.0.0.1:" + ((IPEndPoint)listener.LocalEndpoint).Port + "/");
            for (string line = Console.ReadLine(); line != "quit"; line = Console.ReadLine())
            {
                if (line == null) { Thread.Sleep(Timeout.Infinite); }
                lock (typeof(Program)) Console.WriteLine(Obey(line));
            }
        }
    }
}
