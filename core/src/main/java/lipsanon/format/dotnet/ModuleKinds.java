package lipsanon.format.dotnet;

import java.util.HashSet;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * Whose the modules of a process are, by the names of the types that they have: types that stand in
 * others come without a namespace, and are whose their module is.
 *
 * @param <M> what a module is known by
 */
public final class ModuleKinds<M> {
  /** Of a type with arguments what stands before these. */
  private static final Pattern NAMESPACED = Pattern.compile("[^.`\\[<]+\\.");

  private final Set<M> runtime = new HashSet<>();
  private final Set<M> libraries = new HashSet<>();
  private final Set<M> others = new HashSet<>();

  /** Notes a type of a module, by its full name. */
  public void see(M module, String name) {
    if (DotnetTypes.isGenerated(name)) {
      return;
    }
    if (DotnetTypes.isLibrary(name)) {
      runtime.add(module);
    } else if (DotnetTypes.isForeign(name)) {
      libraries.add(module);
    } else if (NAMESPACED.matcher(name).lookingAt()) {
      // one namespace of its own is enough: some programs add to those of the runtime
      others.add(module);
    }
  }

  /** Whether a module is the runtime's. */
  public boolean isRuntime(M module) {
    return runtime.contains(module) && !libraries.contains(module) && !others.contains(module);
  }

  /** Whether it is one of the libraries that are published with the runtime. */
  public boolean isLibrary(M module) {
    return libraries.contains(module) && !others.contains(module);
  }
}
