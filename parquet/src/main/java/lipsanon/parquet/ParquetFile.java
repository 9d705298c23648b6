package lipsanon.parquet;

import com.github.luben.zstd.util.Native;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import lipsanon.question.TableFiles;
import lipsanon.question.TableFiles.Column;
import lipsanon.question.TableFiles.Kind;
import org.apache.parquet.conf.ParquetConfiguration;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileWriter;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.api.WriteSupport;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.io.OutputFile;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.io.api.RecordConsumer;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Types;

/**
 * Writes rows to a Parquet file, row group by row group, with dictionaries and zstd; uncompressed
 * where the library has no native part either. Memory: one row group, {@value #GROUP_BYTES} bytes
 * and what it takes to encode it. One thread.
 */
final class ParquetFile implements TableFiles.TableFile {
  static final int GROUP_BYTES = 32 << 20;

  private final ParquetWriter<Object[]> writer;

  private ParquetFile(ParquetWriter<Object[]> writer) {
    this.writer = writer;
  }

  static ParquetFile create(Path file, List<Column> columns) throws IOException {
    return new ParquetFile(
        new Builder(new LocalOutputFile(file), columns)
            .withConf(new PlainParquetConfiguration())
            .withCompressionCodec(codec())
            .withDictionaryEncoding(true)
            .withRowGroupSize((long) GROUP_BYTES)
            .withWriteMode(ParquetFileWriter.Mode.OVERWRITE)
            .build());
  }

  private static CompressionCodecName codec() {
    try {
      Native.load();
      return CompressionCodecName.ZSTD;
    } catch (UnsatisfiedLinkError e) {
      return CompressionCodecName.UNCOMPRESSED;
    }
  }

  @Override
  public void row(Object... values) throws IOException {
    writer.write(values);
  }

  @Override
  public void close() throws IOException {
    writer.close();
  }

  private static final class Builder extends ParquetWriter.Builder<Object[], Builder> {
    private final List<Column> columns;

    Builder(OutputFile file, List<Column> columns) {
      super(file);
      this.columns = columns;
    }

    @Override
    protected Builder self() {
      return this;
    }

    @Override
    protected WriteSupport<Object[]> getWriteSupport(ParquetConfiguration configuration) {
      return new Rows(columns);
    }

    @Override
    @SuppressWarnings("deprecation") // the library asks for both
    protected WriteSupport<Object[]> getWriteSupport(
        org.apache.hadoop.conf.Configuration configuration) {
      return new Rows(columns);
    }
  }

  /** Hands a row's values to the library. */
  private static final class Rows extends WriteSupport<Object[]> {
    private final List<Column> columns;
    private RecordConsumer consumer;

    Rows(List<Column> columns) {
      this.columns = columns;
    }

    private MessageType schema() {
      Types.MessageTypeBuilder schema = Types.buildMessage();
      for (Column column : columns) {
        switch (column.kind()) {
          case TEXT ->
              schema
                  .optional(PrimitiveTypeName.BINARY)
                  .as(LogicalTypeAnnotation.stringType())
                  .named(column.name());
          case LONG -> schema.optional(PrimitiveTypeName.INT64).named(column.name());
          case INT -> schema.optional(PrimitiveTypeName.INT32).named(column.name());
          case BOOLEAN -> schema.optional(PrimitiveTypeName.BOOLEAN).named(column.name());
        }
      }
      return schema.named("rows");
    }

    @Override
    public WriteContext init(ParquetConfiguration configuration) {
      return new WriteContext(schema(), Map.of());
    }

    @Override
    @SuppressWarnings("deprecation") // the library asks for both
    public WriteContext init(org.apache.hadoop.conf.Configuration configuration) {
      return new WriteContext(schema(), Map.of());
    }

    @Override
    public void prepareForWrite(RecordConsumer to) {
      consumer = to;
    }

    @Override
    public void write(Object[] values) {
      consumer.startMessage();
      for (int i = 0; i < values.length; i++) {
        if (values[i] != null) {
          Column column = columns.get(i);
          consumer.startField(column.name(), i);
          value(column.kind(), values[i]);
          consumer.endField(column.name(), i);
        }
      }
      consumer.endMessage();
    }

    private void value(Kind kind, Object value) {
      switch (kind) {
        case TEXT -> consumer.addBinary(Binary.fromString(value.toString()));
        case LONG -> consumer.addLong(((Number) value).longValue());
        case INT -> consumer.addInteger(((Number) value).intValue());
        case BOOLEAN -> consumer.addBoolean((Boolean) value);
      }
    }
  }
}
