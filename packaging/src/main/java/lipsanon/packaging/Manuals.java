package lipsanon.packaging;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.cli.Main;
import org.asciidoctor.Asciidoctor;
import org.asciidoctor.Options;
import org.asciidoctor.SafeMode;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.codegen.docgen.manpage.ManPageGenerator;

/** Writes the manual's pages and the completion of bash and zsh from the commands themselves. */
public final class Manuals {
  private static final String ZSH =
      """
      #compdef lipsanon
      # reads the completion of bash, which lies beside this file
      autoload -U +X bashcompinit && bashcompinit
      source "${${(%):-%x}:A:h}/lipsanon.bash"
      """;

  private Manuals() {}

  /** Into {@code man/man1} and {@code completion} of a folder. */
  public static void main(String[] args) throws IOException {
    Path folder = Path.of(args[0]);
    CommandLine commands = Main.commands();
    Path completion = Files.createDirectories(folder.resolve("completion"));
    Files.writeString(completion.resolve("lipsanon.bash"), AutoComplete.bash("lipsanon", commands));
    Files.writeString(completion.resolve("_lipsanon"), ZSH);
    Path pages = Files.createDirectories(folder.resolve("man/man1"));
    Path sources = Files.createTempDirectory("lipsanon-man-");
    try {
      List<CommandLine.Model.CommandSpec> all = new ArrayList<>();
      all.add(commands.getCommandSpec());
      boolean[] quiet = new boolean[0];
      int code =
          ManPageGenerator.generateManPage(
              sources.toFile(),
              null,
              quiet,
              true,
              all.toArray(CommandLine.Model.CommandSpec[]::new));
      if (code != 0) {
        throw new IOException("the manual's pages could not be made: code " + code);
      }
      try (Asciidoctor converter = Asciidoctor.Factory.create();
          Stream<Path> files = Files.list(sources)) {
        for (Path source : files.filter(file -> file.toString().endsWith(".adoc")).toList()) {
          String name = source.getFileName().toString().replaceAll("\\.adoc$", "");
          converter.convertFile(
              source.toFile(),
              Options.builder()
                  .backend("manpage")
                  .safe(SafeMode.UNSAFE)
                  .toFile(pages.resolve(name + ".1").toFile())
                  .build());
        }
      }
    } finally {
      try (Stream<Path> files = Files.walk(sources)) {
        for (Path path : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    }
  }
}
