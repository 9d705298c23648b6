package lipsanon.capture.dotnet;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.capture.CheckedCapture;
import lipsanon.capture.CodeFile;

/**
 * The assemblies that a process has loaded, as far as they are files that can be read, or parts of
 * the program's own file: those that a program makes as it runs are not.
 */
final class LoadedAssemblies {
  private static final int MOST = 5000;
  private static final long LARGEST_LIST = 32 << 20;
  private static final String LIST = ".deps.json";

  private LoadedAssemblies() {}

  /** Looks for them; nothing if the process has gone. */
  static CheckedCapture.LoadedCode of(long pid) {
    Path root = Path.of("/proc/" + pid + "/root");
    Set<String> files = new LinkedHashSet<>();
    String maps;
    try {
      // names of files may have any bytes
      maps =
          new String(
              Files.readAllBytes(Path.of("/proc/" + pid + "/maps")), StandardCharsets.ISO_8859_1);
    } catch (IOException e) {
      return new CheckedCapture.LoadedCode(List.of(), Set.of(), Set.of());
    }
    for (String line : maps.split("\n")) {
      int at = line.indexOf('/');
      String file = at < 0 ? "" : line.substring(at);
      if (isCode(file) && files.size() < MOST) {
        files.add(new String(file.getBytes(StandardCharsets.ISO_8859_1), StandardCharsets.UTF_8));
      }
    }
    Set<String> packages = new HashSet<>();
    Set<String> own = new HashSet<>();
    Set<Path> folders = new HashSet<>();
    for (String file : files) {
      Path folder = Path.of(file).getParent();
      if (folder != null && folders.add(folder)) {
        lists(inside(root, folder), packages, own);
      }
    }
    List<CodeFile> code = new ArrayList<>();
    files.forEach(file -> code.add(CodeFile.of(inside(root, Path.of(file)))));
    within(Path.of("/proc/" + pid + "/exe"), code, packages, own);
    return new CheckedCapture.LoadedCode(code, packages, own);
  }

  /** Adds what a program of one file has in it. */
  private static void within(
      Path program, List<CodeFile> code, Set<String> packages, Set<String> own) {
    try {
      for (CodeFile file : Bundle.files(program)) {
        if (isCode(file.name())) {
          code.add(file);
        } else if (file.name().endsWith(LIST) && file.bytes() <= LARGEST_LIST) {
          list(new ObjectMapper().readTree(file.read()), packages, own);
        }
      }
    } catch (IOException e) {
      // without names a stream is as the runtime writes it
      return;
    }
  }

  private static boolean isCode(String file) {
    return file.endsWith(".dll") || file.endsWith(".exe");
  }

  private static Path inside(Path root, Path file) {
    return root.resolve(Path.of("/").relativize(file));
  }

  /** Reads the lists beside a program of what it is made of. */
  private static void lists(Path folder, Set<String> packages, Set<String> own) {
    try (var lists = Files.newDirectoryStream(folder, "*" + LIST)) {
      for (Path list : lists) {
        if (Files.isRegularFile(list) && Files.size(list) <= LARGEST_LIST) {
          list(new ObjectMapper().readTree(Files.readAllBytes(list)), packages, own);
        }
      }
    } catch (IOException e) {
      // without a list a signature tells
      return;
    }
  }

  private static void list(JsonNode tree, Set<String> packages, Set<String> own) {
    for (Map.Entry<String, JsonNode> library : tree.path("libraries").properties()) {
      Set<String> into =
          library.getValue().path("type").asText().equals("package") ? packages : own;
      for (JsonNode target : tree.path("targets")) {
        target
            .path(library.getKey())
            .path("runtime")
            .fieldNames()
            .forEachRemaining(file -> into.add(file.substring(file.lastIndexOf('/') + 1)));
      }
    }
  }
}
