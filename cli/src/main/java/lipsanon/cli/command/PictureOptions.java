package lipsanon.cli.command;

import java.io.IOException;
import java.nio.file.Path;
import lipsanon.cli.draw.Picture;
import picocli.CommandLine.Option;

/** Where a picture of the answer goes. */
public final class PictureOptions {
  @Option(names = "--svg", paramLabel = "FILE", description = "A picture of the answer, as SVG.")
  private Path svg;

  @Option(names = "--png", paramLabel = "FILE", description = "A picture of the answer, as PNG.")
  private Path png;

  /** Makes a picture only if it is wanted. */
  public interface Drawn {
    Picture picture() throws Exception;
  }

  /** Draws it where it is wanted. */
  public void draw(Drawn drawn) throws Exception {
    if (svg != null || png != null) {
      write(drawn.picture());
    }
  }

  private void write(Picture picture) throws IOException {
    picture.write(svg, png);
  }
}
