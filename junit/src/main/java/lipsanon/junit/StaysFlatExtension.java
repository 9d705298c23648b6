package lipsanon.junit;

import java.lang.reflect.Method;
import org.junit.jupiter.api.extension.ExtensionContext;
import org.junit.jupiter.api.extension.InvocationInterceptor;
import org.junit.jupiter.api.extension.ReflectiveInvocationContext;
import org.junit.jupiter.api.parallel.ExecutionMode;
import org.junit.platform.commons.support.ReflectionSupport;

/** Does what {@link StaysFlat} asks for. */
public final class StaysFlatExtension implements InvocationInterceptor {
  /** Made by JUnit. */
  public StaysFlatExtension() {}

  @Override
  public void interceptTestMethod(
      Invocation<Void> invocation,
      ReflectiveInvocationContext<Method> called,
      ExtensionContext context)
      throws Throwable {
    StaysFlat wanted = called.getExecutable().getAnnotation(StaysFlat.class);
    if (context.getExecutionMode() == ExecutionMode.CONCURRENT && parallel(context)) {
      invocation.skip();
      throw new IllegalStateException(
          "@StaysFlat on "
              + called.getExecutable().getName()
              + ": tests run side by side here, and what others allocate meanwhile would be taken"
              + " for this one's. Give its class @Isolated and @Execution(SAME_THREAD).");
    }
    Object test = called.getTarget().orElse(null);
    Object[] arguments = called.getArguments().toArray();
    boolean[] first = {true};
    HeapRehearsal.of(
            () -> {
              if (first[0]) {
                first[0] = false;
                invocation.proceed();
              } else {
                ReflectionSupport.invokeMethod(called.getExecutable(), test, arguments);
              }
            })
        .named(
            context.getRequiredTestClass().getSimpleName() + "." + called.getExecutable().getName())
        .actions(wanted.actions())
        .rounds(wanted.rounds())
        .allowedBytes(wanted.allowedBytes())
        .mine(wanted.mine())
        .check();
  }

  private static boolean parallel(ExtensionContext context) {
    return context
        .getConfigurationParameter("junit.jupiter.execution.parallel.enabled")
        .map(Boolean::parseBoolean)
        .orElse(false);
  }
}
