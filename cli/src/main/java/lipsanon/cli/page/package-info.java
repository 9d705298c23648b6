/**
 * Pages to read, look at and share: {@link lipsanon.cli.page.PageFile} puts answers, the charts and
 * the page's own script into one file that loads nothing from anywhere.
 */
package lipsanon.cli.page;
