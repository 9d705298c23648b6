/** What goes into packages beside the program: pages of the manual and completion for shells. */
package lipsanon.packaging;
