package lipsanon.cli.command.check;

import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import lipsanon.change.BudgetAnswer;

/** Results as the XML that CI systems show as tests. */
final class JUnitFile {
  private JUnitFile() {}

  static void write(Path file, BudgetAnswer answer) throws IOException {
    try (Writer out = Files.newBufferedWriter(file)) {
      XMLStreamWriter xml = XMLOutputFactory.newInstance().createXMLStreamWriter(out);
      long failures = answer.budgets().stream().filter(row -> !row.kept()).count();
      xml.writeStartDocument("UTF-8", "1.0");
      xml.writeStartElement("testsuite");
      xml.writeAttribute("name", "lipsanon gate");
      xml.writeAttribute("tests", Integer.toString(answer.budgets().size()));
      xml.writeAttribute("failures", Long.toString(failures));
      xml.writeAttribute("errors", "0");
      xml.writeAttribute("skipped", "0");
      for (BudgetAnswer.Row row : answer.budgets()) {
        xml.writeStartElement("testcase");
        xml.writeAttribute("classname", "lipsanon." + row.measure());
        xml.writeAttribute("name", clean(row.name()));
        xml.writeAttribute("time", "0");
        if (!row.kept()) {
          xml.writeStartElement("failure");
          xml.writeAttribute("message", clean(row.sentence()));
          xml.writeCharacters(
              clean(
                  row.value()
                      + " of at most "
                      + row.limit()
                      + "\n"
                      + String.join("\n", row.steps())));
          xml.writeEndElement();
        }
        xml.writeEndElement();
      }
      xml.writeEndElement();
      xml.writeEndDocument();
      xml.close();
    } catch (XMLStreamException e) {
      throw new IOException(e);
    }
  }

  /** XML has no place for control characters, whatever the heap holds. */
  private static String clean(String text) {
    StringBuilder clean = new StringBuilder();
    text.codePoints()
        .forEach(
            c -> {
              boolean allowed =
                  c == '\n'
                      || c == '\t'
                      || c >= ' ' && c < 0xd800
                      || c > 0xdfff && c < 0xfffe
                      || c > 0xffff;
              clean.appendCodePoint(allowed ? c : 0xfffd);
            });
    return clean.toString();
  }
}
