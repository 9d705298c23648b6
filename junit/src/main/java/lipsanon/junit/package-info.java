/**
 * For tests that fail when something stays behind. An action is done several times in the test's
 * own VM, heap dumps are taken before and after by the VM's own bean, and the series is asked what
 * grows: as on the command line, with the same sentence and path. Use {@link
 * lipsanon.junit.StaysFlat} where the test method is the action, {@link
 * lipsanon.junit.HeapRehearsal} where the action is a part of a test.
 */
package lipsanon.junit;
