/** Where objects were allocated, from whatever a runtime recorded. */
package lipsanon.origin;
