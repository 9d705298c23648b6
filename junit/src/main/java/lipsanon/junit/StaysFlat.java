package lipsanon.junit;

import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Inherited;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;
import org.junit.jupiter.api.extension.ExtendWith;

/**
 * The test method is an action that must leave nothing behind: it is called several times, between
 * its {@code BeforeEach} and {@code AfterEach} methods, and the test fails if something piles up
 * with every call. See {@link HeapRehearsal} for what is done.
 */
@Documented
@Inherited
@Target(ElementType.METHOD)
@Retention(RetentionPolicy.RUNTIME)
@ExtendWith(StaysFlatExtension.class)
public @interface StaysFlat {
  /** How often the action is done between two snapshots. */
  int actions() default HeapRehearsal.ACTIONS;

  /** How many snapshots follow the first one. */
  int rounds() default HeapRehearsal.ROUNDS;

  /** Bytes that may pile up with each action. */
  long allowedBytes() default 0;

  /** Own packages, where they are not found by themselves: their types and holders are named. */
  String[] mine() default {};
}
