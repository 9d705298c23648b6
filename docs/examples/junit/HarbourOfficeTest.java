import java.util.ArrayList;
import java.util.List;
import lipsanon.junit.HeapRehearsal;
import lipsanon.junit.StaysFlat;
import org.junit.jupiter.api.Test;

/** Vessels that leave are forgotten. */
class HarbourOfficeTest {
  record VesselCall(String vessel, byte[] manifest) {}

  static class HarbourOffice {
    final List<VesselCall> subscribers = new ArrayList<>();

    VesselCall arrive(String vessel) {
      VesselCall call = new VesselCall(vessel, new byte[500]);
      subscribers.add(call);
      return call;
    }

    void leave(VesselCall call) {
      // a forgetful office leaves departed vessels on the tide board
      if (!Boolean.getBoolean("forgetful")) {
        subscribers.remove(call);
      }
    }
  }

  static final HarbourOffice OFFICE = new HarbourOffice();

  @StaysFlat
  @Test
  void vesselsLeave() {
    OFFICE.leave(OFFICE.arrive("Alma"));
  }

  @Test
  void vesselsLeaveInAPartOfATest() throws Throwable {
    HarbourOffice office = new HarbourOffice();
    HeapRehearsal.of(() -> office.leave(office.arrive("Alma"))).actions(4).check();
  }
}
