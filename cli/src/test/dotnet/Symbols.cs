using System;
using System.Collections.Generic;
using System.IO;
using System.Reflection;

// Writes a portable symbol file with the runtime's own writer: Symbols FILE METHODS. In method n the
// instruction at k comes from line 1000 n + k for k = 0, 1, ... 200; at 50 the lines jump back, at 60
// to 69 they are hidden, and from 100 on they are in a second document.
public static class Symbols
{
    static Assembly metadata = Assembly.Load("System.Reflection.Metadata");

    static object Call(object on, string name, params object[] args)
    {
        foreach (MethodInfo method in on.GetType().GetMethods())
        {
            ParameterInfo[] wanted = method.GetParameters();
            if (method.Name != name || wanted.Length != args.Length) continue;
            bool fits = true;
            for (int i = 0; i < args.Length; i++)
                fits &= args[i] == null || wanted[i].ParameterType.IsInstanceOfType(args[i]);
            if (fits) return method.Invoke(on, args);
        }
        throw new MissingMethodException(on.GetType().Name + "." + name);
    }

    static object Nil(string type) { return Activator.CreateInstance(metadata.GetType("System.Reflection.Metadata." + type)); }

    static object Blob() { return Activator.CreateInstance(metadata.GetType("System.Reflection.Metadata.BlobBuilder"), 256); }

    public static void Main(string[] args)
    {
        int methods = int.Parse(args[1]);
        object builder = Activator.CreateInstance(metadata.GetType("System.Reflection.Metadata.Ecma335.MetadataBuilder"), 0, 0, 0, 0);
        object language = Call(builder, "GetOrAddGuid", new Guid("3f5162f8-07c6-11d3-9053-00c04fa302a1"));
        object[] documents = new object[2];
        string[] names = { "/quay/src/Office.cs", "/quay/src/More.cs" };
        for (int i = 0; i < 2; i++)
            documents[i] = Call(builder, "AddDocument", Call(builder, "GetOrAddDocumentName", names[i]), Nil("GuidHandle"), Nil("BlobHandle"), language);
        for (int n = 1; n <= methods; n++)
        {
            object points = Blob();
            Call(points, "WriteCompressedInteger", 0);
            int last = 0, lastOffset = 0;
            bool first = true;
            for (int k = 0; k <= 200; k++)
            {
                if (k == 100) { Call(points, "WriteCompressedInteger", 0); Call(points, "WriteCompressedInteger", 2); }
                if (!first && k == lastOffset) continue;
                Call(points, "WriteCompressedInteger", first ? k : k - lastOffset);
                lastOffset = k;
                first = false;
                if (k >= 60 && k < 70) { Call(points, "WriteCompressedInteger", 0); Call(points, "WriteCompressedInteger", 0); continue; }
                int line = k == 50 ? 7 : 1000 * n + k;
                Call(points, "WriteCompressedInteger", 0);
                Call(points, "WriteCompressedInteger", 5);
                if (last == 0) { Call(points, "WriteCompressedInteger", line); Call(points, "WriteCompressedInteger", 9); }
                else { Call(points, "WriteCompressedSignedInteger", line - last); Call(points, "WriteCompressedSignedInteger", k % 2 == 0 ? 1 : -1); }
                last = line;
            }
            Call(builder, "AddMethodDebugInformation", documents[0], Call(builder, "GetOrAddBlob", points));
        }
        Type immutable = Assembly.Load("System.Collections.Immutable").GetType("System.Collections.Immutable.ImmutableArray");
        object rows = null;
        foreach (MethodInfo method in immutable.GetMethods())
        {
            ParameterInfo[] p = method.GetParameters();
            if (method.Name == "Create" && p.Length == 1 && p[0].ParameterType.IsArray)
                rows = method.MakeGenericMethod(typeof(int)).Invoke(null, new object[] { new int[64] });
        }
        object entry = Nil("MethodDefinitionHandle");
        object pdb = Activator.CreateInstance(metadata.GetType("System.Reflection.Metadata.Ecma335.PortablePdbBuilder"), builder, rows, entry, null);
        object all = Blob();
        Call(pdb, "Serialize", all);
        File.WriteAllBytes(args[0], (byte[])Call(all, "ToArray"));
        Console.WriteLine("written");
    }
}
