package lipsanon.format.dotnet;

import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import lipsanon.index.TypeInfo;

/** What is known of a .NET type by its name. */
public final class DotnetTypes {
  private DotnetTypes() {}

  /** First parts of names of the runtime and of the libraries of its languages. */
  private static final List<String> RUNTIME =
      List.of(
          "System.",
          "Internal.",
          "Interop",
          "Microsoft.CSharp.",
          "Microsoft.Diagnostics.",
          "Microsoft.FSharp.",
          "Microsoft.VisualBasic.",
          "Microsoft.Win32.");

  /** Whether a type's full name is one of the runtime or its library. */
  public static boolean isLibrary(String name) {
    for (String first : RUNTIME) {
      if (name.startsWith(first)) {
        return true;
      }
    }
    return false;
  }

  /** Whether a type's full name is one of the libraries that are published with the runtime. */
  public static boolean isForeign(String name) {
    return name.startsWith("Microsoft.") && !isLibrary(name);
  }

  /**
   * Whether a type was put into somebody's assembly by the compiler or what generates code for it,
   * under a name of the runtime or its libraries.
   */
  static boolean isGenerated(String name) {
    return name.contains(".Generated.")
        || name.startsWith("System.Runtime.CompilerServices.")
        || name.startsWith("System.Diagnostics.CodeAnalysis.")
        || name.startsWith("Microsoft.CodeAnalysis.");
  }

  /** A field's name; one that the compiler made for a property goes by the property's. */
  public static String fieldName(String name) {
    int end = name.indexOf(">k__BackingField");
    return name.startsWith("<") && end > 1 ? name.substring(1, end) : name;
  }

  /**
   * What is known of a type.
   *
   * @param name as C# writes it
   * @param library whether it is of the runtime or its library
   * @param foreign whether it is of a library that the program brings along
   * @param nested whether it stands in another type
   * @param array whether it is an array
   * @param delegate whether it refers to methods
   */
  public static Set<TypeInfo.Trait> traits(
      String name,
      boolean library,
      boolean foreign,
      boolean nested,
      boolean array,
      boolean delegate) {
    boolean outside = foreign || isForeign(name);
    Set<TypeInfo.Trait> traits = EnumSet.noneOf(TypeInfo.Trait.class);
    if (array) {
      traits.add(TypeInfo.Trait.ARRAY);
    }
    if (library || delegate) {
      traits.add(TypeInfo.Trait.LIBRARY);
    } else if (outside) {
      traits.add(TypeInfo.Trait.FOREIGN);
    }
    if (delegate) {
      // it stands between who tells and who hears
      traits.add(TypeInfo.Trait.PASSAGE);
      traits.add(TypeInfo.Trait.DELEGATE);
    }
    if (name.equals("System.String")) {
      traits.add(TypeInfo.Trait.TEXT);
    }
    boolean collection =
        name.startsWith("System.Collections.")
            || name.startsWith("Microsoft.FSharp.Collections.")
            || library
                && name.matches("(Entry|Node|Bucket|Tables|VolatileNode|Slot|Container)(<.*)?");
    if (collection) {
      traits.add(TypeInfo.Trait.COLLECTION);
    }
    // a timer is the end of its chain: what it calls hangs on it
    boolean threading =
        name.startsWith("System.Threading.") && !name.startsWith("System.Threading.Timer");
    boolean link = collection && name.matches("[^<]*Node(<.*)?");
    if (library && (array || nested || threading || link) || outside && nested && !array) {
      // entries, nodes and the like: what they lead to says more
      traits.add(TypeInfo.Trait.PASSAGE);
    }
    if (name.matches(
        "System\\.(Boolean|Byte|SByte|Char|Decimal|Double|Single|U?Int(16|32|64|Ptr)|DateTime|Guid)")) {
      traits.add(TypeInfo.Trait.BOXED);
    }
    if (name.startsWith("System.Reflection.") || name.equals("System.RuntimeType")) {
      traits.add(TypeInfo.Trait.CODE);
    }
    if (name.startsWith("System.Diagnostics.Tracing.")) {
      // the machinery through which we look
      traits.add(TypeInfo.Trait.OBSERVER);
    }
    return traits;
  }
}
