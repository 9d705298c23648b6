/**
 * Who keeps a pile: places in the dominator tree, climbing out of containers, and the test by cuts
 * that the named holder's release frees it.
 */
package lipsanon.holder;
