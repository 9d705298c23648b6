package portmerrow;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** The known defect, and its fix. */
class HarbourOfficeTest {
  @Test
  void departedCallsStaySubscribed() {
    HarbourOffice office = new HarbourOffice(false);
    for (int day = 1; day <= 3; day++) {
      assertThat(office.runDay()).startsWith("day " + day + ": 40 vessels");
      assertThat(office.status()).endsWith(40 * day + " on the tide board");
    }
  }

  @Test
  void theFixedVariantForgetsThem() {
    HarbourOffice office = new HarbourOffice(true);
    office.runDay();
    office.runDay();
    assertThat(office.status()).isEqualTo("day 2, 0 on the tide board");
  }
}
