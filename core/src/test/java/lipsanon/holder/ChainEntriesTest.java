package lipsanon.holder;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ChainEntriesTest {
  private static final int LIST = 1000;

  /**
   * Lists of random lengths, whose links are come upon in any order, and followed from each to the
   * one before it: whoever refers to a list leads to all of its links that were asked about.
   */
  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 4, 5, 6, 7, 8})
  void whoeverHasAListLeadsToAllOfIt(int seed) {
    Random random = new Random(seed);
    int lists = 1 + random.nextInt(5);
    int[] lengths = new int[lists];
    List<Integer> begun = new ArrayList<>();
    int[] expected = new int[lists];
    for (int l = 0; l < lists; l++) {
      lengths[l] = 1 + random.nextInt(60);
      for (int i = 0; i < lengths[l]; i++) {
        // the last one always, so that all others are come upon from it
        if (i == lengths[l] - 1 || random.nextBoolean()) {
          begun.add(l * LIST + i);
          expected[l]++;
        }
      }
    }
    Collections.shuffle(begun, random);
    ChainEntries entries = new ChainEntries(100_000);
    List<Integer> pending = new ArrayList<>();
    for (int node : begun) {
      if (entries.begin(node, node)) {
        pending.add(node);
      }
    }
    for (int i = 0; i < pending.size(); i++) {
      int node = pending.get(i);
      if (node % LIST == 0) {
        entries.enter("first", -1 - node / LIST, node);
      } else if (entries.link(node - 1, node)) {
        pending.add(node - 1);
      }
    }
    HolderGroup group = entries.groups().get("first");
    int longest = 0;
    for (int size : expected) {
      longest = Math.max(longest, size);
    }
    assertThat(group.reach).isEqualTo(longest);
    for (int l = 0; l < lists; l++) {
      boolean telling = expected[l] * 20 >= longest;
      assertThat(group.nodes.contains(-1 - l)).isEqualTo(telling);
      assertThat(group.leads.containsKey(-1 - l)).isEqualTo(telling);
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {3, 5})
  void noMoreThanSoManyLinksAreGoneThrough(int most) {
    ChainEntries entries = new ChainEntries(most);
    assertThat(entries.begin(0, 7)).isTrue();
    for (int i = 1; i < most; i++) {
      assertThat(entries.link(i, i - 1)).isTrue();
      assertThat(entries.member(i)).isEqualTo(7);
    }
    assertThat(entries.link(most, most - 1)).isFalse();
    assertThat(entries.has(most)).isFalse();
    assertThat(entries.begin(most, 7)).isFalse();
  }
}
