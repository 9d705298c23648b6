/** Reading JavaScript as text: what captures and analysis both need to know of it. */
package lipsanon.scripts;
