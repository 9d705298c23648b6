package lipsanon.capture.dotnet;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.SelectionKey;
import java.nio.channels.Selector;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import lipsanon.capture.CaptureException;

/**
 * The port that a .NET runtime opens for tools of its own user: a Unix socket in its temporary
 * folder. One command a connection; a tracing session's connection then carries the stream.
 *
 * <pre>
 * Message --> "DOTNET_IPC_V1" 0, size u2 (all of it), set u1, command u1, 0 u2, payload
 * Reply   --> the same with set 0xff and command 0 (fine) or 0xff (payload: HRESULT i4)
 * Text    --> count u4 of UTF-16 units with the zero at the end, the units
 * </pre>
 *
 * Little-endian. Some requests end the target: a buffer of 0 MB, an unknown format of the stream, a
 * payload that is too short. So requests are made here only, of values that were checked.
 */
final class DiagnosticPort {
  static final int SET_DUMP = 1;
  static final int SET_TRACE = 2;
  static final int SET_PROCESS = 4;
  static final int STOP_TRACING = 1;
  static final int COLLECT_TRACING_2 = 3;
  static final int COLLECT_TRACING_4 = 5;
  static final int PROCESS_INFO_2 = 4;
  static final int PROCESS_INFO_3 = 8;

  private static final byte[] MAGIC = "DOTNET_IPC_V1\0".getBytes(StandardCharsets.US_ASCII);
  private static final int HEADER_BYTES = 20;
  private static final int SIZE_OFFSET = 14;
  private static final int SET_OFFSET = 16;
  private static final int COMMAND_OFFSET = 17;
  private static final int REPLY_SET = 0xff;
  private static final int UNKNOWN_COMMAND = 0x80131385;
  private static final int FORMAT_NETTRACE = 1;

  private final String name;
  private final Path socket;

  /** The runtime refused a command that it does not know. */
  static final class UnknownCommandException extends CaptureException {
    private static final long serialVersionUID = 1L;

    UnknownCommandException(String message) {
      super(message);
    }
  }

  DiagnosticPort(long pid, Path socket) {
    this.name = "process " + pid;
    this.socket = socket;
  }

  /** A reply whose connection stays open. */
  record Open(SocketChannel channel, ByteBuffer payload) {}

  /** Asks, and closes the connection. */
  ByteBuffer ask(int set, int command, byte[] payload, Duration patience) throws CaptureException {
    Open open = open(set, command, payload, patience);
    close(open.channel());
    return open.payload();
  }

  static void close(SocketChannel channel) {
    try {
      channel.close();
    } catch (IOException e) {
      // nothing more is wanted of it
      return;
    }
  }

  /** Asks; the connection stays open. */
  Open open(int set, int command, byte[] payload, Duration patience) throws CaptureException {
    SocketChannel channel = null;
    boolean fine = false;
    try {
      channel = SocketChannel.open(StandardProtocolFamily.UNIX);
      channel.connect(UnixDomainSocketAddress.of(socket));
      ByteBuffer request = message(set, command, payload);
      while (request.hasRemaining()) {
        channel.write(request);
      }
      channel.configureBlocking(false);
      ByteBuffer header = read(channel, HEADER_BYTES, patience);
      int size = header.getShort(SIZE_OFFSET) & 0xffff;
      if ((header.get(SET_OFFSET) & 0xff) != REPLY_SET || size < HEADER_BYTES) {
        throw new CaptureException(name + " answers at its diagnostics port, but not like .NET");
      }
      ByteBuffer answer = read(channel, size - HEADER_BYTES, patience);
      if (header.get(COMMAND_OFFSET) != 0) {
        throw refused(set, command, answer);
      }
      channel.configureBlocking(true);
      fine = true;
      return new Open(channel, answer);
    } catch (CaptureException e) {
      throw e;
    } catch (java.net.ConnectException e) {
      throw new CaptureException(name + " has left its diagnostics port behind; it has ended", e);
    } catch (IOException e) {
      throw new CaptureException(
          name + " cannot be reached at " + socket + ": " + e.getMessage(), e);
    } finally {
      if (!fine && channel != null) {
        close(channel);
      }
    }
  }

  private CaptureException refused(int set, int command, ByteBuffer answer) {
    int code = answer.remaining() >= Integer.BYTES ? answer.getInt() : 0;
    String message =
        name
            + " refused command "
            + set
            + "/"
            + command
            + String.format(" of its diagnostics port (0x%x)", code);
    return code == UNKNOWN_COMMAND
        ? new UnknownCommandException(message)
        : new CaptureException(message);
  }

  private static ByteBuffer message(int set, int command, byte[] payload) {
    ByteBuffer message =
        ByteBuffer.allocate(HEADER_BYTES + payload.length).order(ByteOrder.LITTLE_ENDIAN);
    message.put(MAGIC).putShort((short) (HEADER_BYTES + payload.length));
    message.put((byte) set).put((byte) command).putShort((short) 0).put(payload);
    return message.flip();
  }

  /** Reads so many bytes from a channel that does not block. */
  private ByteBuffer read(SocketChannel channel, int count, Duration patience) throws IOException {
    ByteBuffer buffer = ByteBuffer.allocate(count).order(ByteOrder.LITTLE_ENDIAN);
    long end = System.nanoTime() + patience.toNanos();
    try (Selector selector = Selector.open()) {
      SelectionKey key = channel.register(selector, SelectionKey.OP_READ);
      while (buffer.hasRemaining()) {
        selector.select(200);
        selector.selectedKeys().clear();
        int got = channel.read(buffer);
        if (got < 0) {
          throw new CaptureException(name + " closed its diagnostics port in the middle (ended?)");
        }
        if (got == 0 && System.nanoTime() > end) {
          throw new CaptureException(
              name
                  + " has not answered at its diagnostics port for "
                  + patience.toSeconds()
                  + " s (is it stopped?)");
        }
        if (Thread.currentThread().isInterrupted()) {
          throw new CaptureException("interrupted");
        }
      }
      key.cancel();
    }
    return buffer.flip();
  }

  /** A text from a reply. */
  static String text(ByteBuffer in) {
    int count = in.getInt();
    if (count <= 0 || count > in.remaining() / 2) {
      return "";
    }
    byte[] bytes = new byte[2 * count];
    in.get(bytes);
    return new String(bytes, 0, bytes.length - 2, StandardCharsets.UTF_16LE);
  }

  /**
   * What a tracing session records.
   *
   * @param provider whose events
   * @param keywords which of them
   * @param level how detailed
   * @param filter for the provider, or ""
   */
  record Provider(String provider, long keywords, int level, String filter) {}

  /**
   * The request for a tracing session.
   *
   * @param bufferMegabytes 1 or more: what the target may take while we are slow
   * @param rundown keywords of what is told at the end (names of methods), or 0; -1: by the older
   *     command, which tells nothing of them
   * @param stacks whether events come with their stacks
   */
  static byte[] tracing(int bufferMegabytes, long rundown, boolean stacks, Provider... providers) {
    if (bufferMegabytes < 1 || providers.length < 1) {
      throw new IllegalArgumentException("this request would end the target");
    }
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    int4(bytes, bufferMegabytes);
    int4(bytes, FORMAT_NETTRACE);
    if (rundown < 0) {
      bytes.write(0);
    } else {
      int8(bytes, rundown);
      bytes.write(stacks ? 1 : 0);
    }
    int4(bytes, providers.length);
    for (Provider provider : providers) {
      int8(bytes, provider.keywords());
      int4(bytes, provider.level());
      text(bytes, provider.provider());
      text(bytes, provider.filter());
    }
    return bytes.toByteArray();
  }

  static void int4(ByteArrayOutputStream bytes, int value) {
    for (int shift = 0; shift < Integer.SIZE; shift += Byte.SIZE) {
      bytes.write(value >>> shift);
    }
  }

  private static void int8(ByteArrayOutputStream bytes, long value) {
    int4(bytes, (int) value);
    int4(bytes, (int) (value >>> Integer.SIZE));
  }

  static void text(ByteArrayOutputStream bytes, String text) {
    if (text.isEmpty()) {
      int4(bytes, 0);
      return;
    }
    int4(bytes, text.length() + 1);
    bytes.writeBytes((text + "\0").getBytes(StandardCharsets.UTF_16LE));
  }
}
