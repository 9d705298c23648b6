package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Names of a browser's classes, as they are in its snapshots. */
class CppNamesTest {
  private static final String MEMBER =
      "cppgc::internal::BasicMember<blink::%s, cppgc::internal::StrongMemberTag,"
          + " cppgc::internal::DijkstraWriteBarrierPolicy>";

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "blink::HeapVectorBacking<MEMBER> | blink::HeapVectorBacking<Berth>",
        "blink::HeapHashTableBacking<blink::HashTable<int, blink::KeyValuePair<int, MEMBER>,"
            + " blink::KeyValuePairExtractor, blink::HashMapValueTraits<blink::HashTraits<int>,"
            + " blink::HashTraits<MEMBER>>, blink::HashTraits<int>, blink::HeapAllocator>>"
            + " | blink::HeapHashTableBacking<int, Berth>",
        "blink::HeapHashTableBacking<blink::HashTable<MEMBER, MEMBER, blink::IdentityExtractor,"
            + " blink::HashTraits<MEMBER>, blink::HashTraits<MEMBER>, blink::HeapAllocator>>"
            + " | blink::HeapHashTableBacking<Berth>",
        "blink::HeapVectorBacking<blink::VectorBackedLinkedListNode<MEMBER, blink::HeapAllocator>>"
            + " | blink::HeapVectorBacking<Berth>",
        "blink::BasicHeapVector<blink::internal::HeapCollectionType::kGCed, MEMBER>"
            + " | blink::BasicHeapVector<Berth>",
        "blink::HeapMojoRemote<blink::mojom::blink::Pilot>::Wrapper"
            + " | blink::HeapMojoRemote<Pilot>::Wrapper",
        "blink::HeapHashTableBacking<blink::HashTable<const char *, blink::KeyValuePair<const char"
            + " *, blink::Supplement<blink::Tide>>>>"
            + " | blink::HeapHashTableBacking<const char *, Supplement<Tide>>",
        "blink::Table<std::pair<const blink::StringImpl *, blink::A::B>>"
            + " | blink::Table<pair<const StringImpl *, A::B>>"
      })
  void whatATableIsOf(String name, String expected) {
    assertThat(CppNames.shortened(name.replace("MEMBER", MEMBER.formatted("Berth"))))
        .isEqualTo(expected);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "blink::Node",
        "blink::Queue::Queue()@../../queue<x>.cc:45",
        "blink::Open<blink::A",
        "blink::Open<blink::A, ",
        "blink::More<blink::A>>",
        "<",
        "a<b,>c>",
        ""
      })
  void whatIsNoTemplateStays(String name) {
    assertThat(CppNames.shortened(name)).isEqualTo(name);
  }

  @Test
  void whatIsTooDeepOrLongStays() {
    String deep = "blink::" + "A<".repeat(9000) + ">".repeat(9000);
    assertThat(CppNames.shortened(deep)).isEqualTo(deep);
    String wide = "blink::A<" + "b, ".repeat(10_000) + "c>";
    assertThat(CppNames.shortened(wide)).isEqualTo(wide);
  }
}
