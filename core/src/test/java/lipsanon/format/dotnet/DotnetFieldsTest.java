package lipsanon.format.dotnet;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DotnetFieldsTest {
  private static final String BOX =
      "System.Runtime.CompilerServices.AsyncTaskMethodBuilder.AsyncStateMachineBox";

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "BOX<System.Threading.Tasks.VoidTaskResult, PortMerrow.Planner.<ExecuteAsync>d__2>"
            + " ; StateMachine.<plans>5__2 ; local variable `plans` in PortMerrow.Planner.ExecuteAsync",
        "BOX<System.ValueTuple<System.Int32, System.String>, PortMerrow.Program.<>c.<<Main>b__0_1>d>"
            + " ; StateMachine.<call>5__1.span ; local variable `call.span` in PortMerrow.Program.Main",
        "BOX<System.Int32, PortMerrow.Program.<>c__DisplayClass3_0.<<Main>g__Wait|1>d>"
            + " ; StateMachine.<call>5__1 ; local variable `call` in PortMerrow.Program.Main",
        "BOX<System.Int32, PortMerrow.Store.<Find>d__2<PortMerrow.Call>>"
            + " ; StateMachine.<found>5__1 ; local variable `found` in PortMerrow.Store.Find",
        "PortMerrow.Pilot.<Walk>d__3 ; <route>5__1 ; local variable `route` in PortMerrow.Pilot.Walk",
        "BOX<System.Int32, PortMerrow.Pilot.<Wait>d__2> ; StateMachine.<>4__this"
            + " ; BOX<System.Int32, PortMerrow.Pilot.<Wait>d__2>.StateMachine.<>4__this",
        "BOX<System.Int32, PortMerrow.Pilot.<Wait>d__2> ; StateMachine.plan"
            + " ; local variable `plan` in PortMerrow.Pilot.Wait",
        "BOX<System.Int32, PortMerrow.Pilot.<Wait>d__2> ; Context"
            + " ; BOX<System.Int32, PortMerrow.Pilot.<Wait>d__2>.Context",
        "PortMerrow.Pilot.<Walk>d__3 ; plan.sheet ; local variable `plan.sheet` in PortMerrow.Pilot.Walk",
        "PortMerrow.Pilot.<>c__DisplayClass3_0 ; plan ; PortMerrow.Pilot.<>c__DisplayClass3_0.plan",
        "System.Threading.TimerQueue ; _shortTimers ; the timers of .NET",
        "System.Threading.ThreadPoolWorkQueueThreadLocals ; workStealingQueue"
            + " ; the work that waits for the thread pool",
        "System.Threading.TimerQueue ; _id ; System.Threading.TimerQueue._id",
        "PortMerrow.Pilot ; <Name>5__1 ; PortMerrow.Pilot.<Name>5__1",
        "PortMerrow.Pilot ; kit ; PortMerrow.Pilot.kit"
      })
  void localVariablesOfMethodsThatWaitAreSuch(String owner, String path, String text) {
    assertThat(DotnetFields.via(owner.replace("BOX", BOX), path).text())
        .isEqualTo(text.replace("BOX", BOX));
  }
}
