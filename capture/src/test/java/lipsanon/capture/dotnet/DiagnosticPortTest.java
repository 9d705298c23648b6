package lipsanon.capture.dotnet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.ServerSocketChannel;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Random;
import lipsanon.capture.CaptureException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The diagnostics port against servers that answer well, badly, and not at all. */
class DiagnosticPortTest {
  private static final Duration SHORT = Duration.ofMillis(700);

  @TempDir Path folder;

  private interface Server {
    void serve(SocketChannel channel) throws IOException, InterruptedException;
  }

  private ByteBuffer ask(Server server) throws Exception {
    Path socket = folder.resolve("port" + System.nanoTime());
    try (ServerSocketChannel listening = ServerSocketChannel.open(StandardProtocolFamily.UNIX)) {
      listening.bind(UnixDomainSocketAddress.of(socket));
      Thread thread =
          new Thread(
              () -> {
                try (SocketChannel channel = listening.accept()) {
                  channel.read(ByteBuffer.allocate(20));
                  server.serve(channel);
                } catch (IOException | InterruptedException e) {
                  return;
                }
              });
      thread.start();
      try {
        return new DiagnosticPort(1, socket)
            .ask(DiagnosticPort.SET_PROCESS, DiagnosticPort.PROCESS_INFO_2, new byte[0], SHORT);
      } finally {
        thread.interrupt();
        thread.join();
      }
    }
  }

  private static ByteBuffer reply(int set, int command, byte... payload) {
    ByteBuffer reply = ByteBuffer.allocate(20 + payload.length).order(ByteOrder.LITTLE_ENDIAN);
    reply.put("DOTNET_IPC_V1\0".getBytes(StandardCharsets.US_ASCII));
    reply.putShort((short) (20 + payload.length)).put((byte) set).put((byte) command);
    return reply.putShort((short) 0).put(payload).flip();
  }

  @Test
  void anAnswerInPiecesIsWhole() throws Exception {
    ByteBuffer answer =
        ask(
            channel -> {
              ByteBuffer all = reply(0xff, 0, (byte) 1, (byte) 2, (byte) 3, (byte) 4);
              while (all.hasRemaining()) {
                channel.write(ByteBuffer.wrap(new byte[] {all.get()}));
              }
            });
    assertThat(answer.getInt()).isEqualTo(0x04030201);
  }

  @Test
  void whatIsNoAnswerIsTold() {
    assertThatThrownBy(() -> ask(channel -> Thread.sleep(60_000)))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("has not answered");
    assertThatThrownBy(() -> ask(channel -> {}))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("closed its diagnostics port");
    assertThatThrownBy(() -> ask(channel -> channel.write(ByteBuffer.wrap(new byte[64]))))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("not like .NET");
    assertThatThrownBy(
            () ->
                ask(
                    channel ->
                        channel.write(
                            reply(0xff, 0xff, (byte) 0x85, (byte) 0x13, (byte) 0x13, (byte) 0x80))))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("refused command 4/4");
    assertThatThrownBy(
            () ->
                ask(
                    channel ->
                        channel.write(
                            reply(0xff, 0xff, (byte) 0x85, (byte) 0x13, (byte) 0x13, (byte) 0x80)
                                .put(16, (byte) 0xff))))
        .isInstanceOf(CaptureException.class);
  }

  @Test
  void noiseEndsInOneKindOfError() throws Exception {
    Random random = new Random(5);
    for (int i = 0; i < 40; i++) {
      byte[] noise = new byte[random.nextInt(200)];
      random.nextBytes(noise);
      if (i % 2 == 0 && noise.length > 20) {
        reply(0xff, 0).get(noise, 0, 17);
      }
      try {
        ask(channel -> channel.write(ByteBuffer.wrap(noise)));
      } catch (CaptureException e) {
        assertThat(e).hasMessageContaining("process 1");
      }
    }
  }

  @Test
  void requestsThatWouldEndTheTargetAreNotMade() {
    DiagnosticPort.Provider one = new DiagnosticPort.Provider("Runtime", 1, 4, "");
    assertThatThrownBy(() -> DiagnosticPort.tracing(0, 0, false, one))
        .isInstanceOf(IllegalArgumentException.class);
    assertThatThrownBy(() -> DiagnosticPort.tracing(64, 0, false))
        .isInstanceOf(IllegalArgumentException.class);
    ByteBuffer request =
        ByteBuffer.wrap(DiagnosticPort.tracing(64, 0x10, true, one)).order(ByteOrder.LITTLE_ENDIAN);
    assertThat(request.getInt()).isEqualTo(64);
    assertThat(request.getInt()).isEqualTo(1);
    assertThat(request.getLong()).isEqualTo(0x10);
    assertThat(request.get()).isEqualTo((byte) 1);
    assertThat(request.getInt()).isEqualTo(1);
    assertThat(request.getLong()).isEqualTo(1);
    assertThat(request.getInt()).isEqualTo(4);
    assertThat(DiagnosticPort.text(request)).isEqualTo("Runtime");
    assertThat(request.getInt()).isZero();
    assertThat(request.remaining()).isZero();
  }
}
