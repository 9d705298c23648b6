package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;

/** Helpers in C# that tests in other packages use. */
public final class DotnetPrograms {
  private DotnetPrograms() {}

  /** Writes a portable symbol file by the runtime's own writer; see {@code Symbols.cs}. */
  public static void writeSymbols(Path file, int methods) throws Exception {
    Path program =
        DotnetYard.build("Symbols", Path.of("src/test/dotnet/Symbols.cs").toAbsolutePath());
    ProcessBuilder builder =
        new ProcessBuilder(program.toString(), file.toString(), Integer.toString(methods))
            .redirectError(ProcessBuilder.Redirect.INHERIT);
    builder.environment().put("DOTNET_ROOT", DotnetYard.runtime().toString());
    Process process = builder.start();
    assertThat(process.inputReader().readLine()).isEqualTo("written");
    assertThat(process.waitFor()).isZero();
  }
}
