package lipsanon.format.dotnet;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** Whose modules are, by what is in them. */
class ModuleKindsTest {
  private final ModuleKinds<String> kinds = new ModuleKinds<>();

  private void see(String... names) {
    for (String name : names) {
      kinds.see("a", name);
    }
  }

  @Test
  void theRuntimesHasTypesWithinTypesAndArgumentsOfAnySort() {
    see("System.String", "Entry", "LinkedSlot`1[PortMerrow.Call]", "Interop");
    assertThat(kinds.isRuntime("a")).isTrue();
    assertThat(kinds.isLibrary("a")).isFalse();
  }

  @Test
  void aPublishedLibraryMayAddToNamespacesOfTheRuntime() {
    see("Microsoft.Extensions.Http.DefaultHttpClientFactory", "System.Net.Http.Factory", "Entry");
    assertThat(kinds.isRuntime("a")).isFalse();
    assertThat(kinds.isLibrary("a")).isTrue();
  }

  @Test
  void aProgramMayAddToAnyNamespace() {
    see("PortMerrow.Call", "System.Harbours", "Microsoft.Harbours");
    assertThat(kinds.isRuntime("a")).isFalse();
    assertThat(kinds.isLibrary("a")).isFalse();
  }

  @Test
  void whatIsGeneratedIntoAProgramWithoutNamespacesSaysNothing() {
    see(
        "Call",
        "System.Text.RegularExpressions.Generated.Name_0",
        "Microsoft.AspNetCore.Http.Generated.Routes",
        "System.Runtime.CompilerServices.InlineArray4");
    assertThat(kinds.isRuntime("a")).isFalse();
    assertThat(kinds.isLibrary("a")).isFalse();
  }
}
