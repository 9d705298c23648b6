/**
 * Graph algorithms over dense object numbers: what is retained and how strongly ({@link
 * lipsanon.graph.Reachability}), dominators and retained sizes ({@link lipsanon.graph.Dominators}),
 * references turned round ({@link lipsanon.graph.Inbound}), sums by type ({@link
 * lipsanon.graph.TypeTotals}). None recurses; each states its cost.
 */
package lipsanon.graph;
