/**
 * What takes the place of contents in copies that may be handed over, and the copying itself: used
 * by every format that can be copied so.
 */
package lipsanon.redact;
