/** Which objects are meant: what users type, turned into sets of objects. */
package lipsanon.select;
