package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.format.dotnet.DotnetTypes;
import lipsanon.format.dotnet.ModuleKinds;
import lipsanon.format.metadata.AssemblyTypes;
import lipsanon.index.TypeInfo;

/** Says of the types of a dump whose they are and what is known of them. */
final class DumpedTypeInfos {
  private static final String MULTICAST = "System.MulticastDelegate";

  private final RuntimeTypes types;
  private final ModuleKinds<RuntimeModule> kinds = new ModuleKinds<>();

  /** Those that somebody has signed, in a program that nobody has. */
  private final Set<RuntimeModule> foreign = new HashSet<>();

  DumpedTypeInfos(RuntimeTypes types) {
    this.types = types;
  }

  /** Of all types with objects, in their order. */
  List<TypeInfo> of(List<RuntimeType> numbered) throws IOException {
    Map<String, Integer> uses = new HashMap<>();
    numbered.forEach(of -> uses.merge(of.name, 1, Integer::sum));
    modules(numbered);
    List<TypeInfo> infos = new ArrayList<>();
    for (RuntimeType of : numbered) {
      infos.add(info(of, uses.get(of.name) > 1));
    }
    return infos;
  }

  private void modules(List<RuntimeType> numbered) throws IOException {
    Set<RuntimeModule> signed = new HashSet<>();
    boolean unsigned = false;
    for (RuntimeType of : numbered) {
      if (of.array() || of.module == null) {
        continue;
      }
      kinds.see(of.module, of.name);
      if (DotnetTypes.isLibrary(of.name) || DotnetTypes.isForeign(of.name)) {
        continue;
      }
      if (new AssemblyTypes(of.module.metadata()).signed()) {
        signed.add(of.module);
      } else {
        unsigned = true;
      }
    }
    if (unsigned) {
      // who signs all assemblies signs the program's own too
      foreign.addAll(signed);
    }
  }

  private TypeInfo info(RuntimeType of, boolean several) throws IOException {
    RuntimeType inner = of;
    while (inner != null && inner.array()) {
      inner = types.ofHandle(inner.element);
    }
    boolean known = inner != null && inner.module != null;
    boolean library =
        DotnetTypes.isLibrary(of.name)
            || known && kinds.isRuntime(inner.module) && !DotnetTypes.isForeign(of.name);
    boolean brought = known && (foreign.contains(inner.module) || kinds.isLibrary(inner.module));
    boolean nested = known && (library || brought) && inner.module.metadata().nested(inner.row);
    String apart =
        several ? String.format("module %s, table 0x%x", file(of.module.path()), of.address) : "";
    return new TypeInfo(
        of.name,
        apart,
        -1,
        DotnetTypes.traits(of.name, library, brought, nested, of.array(), isDelegate(types, of)));
  }

  /** Whether objects of a type are references to methods. */
  static boolean isDelegate(RuntimeTypes types, RuntimeType of) throws IOException {
    return !of.array() && types.extend(of, MULTICAST);
  }

  private static String file(String path) {
    return path.substring(path.lastIndexOf('/') + 1);
  }
}
