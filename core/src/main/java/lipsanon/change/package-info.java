/**
 * What differs between two snapshots, and what grows over many: differences, trends, piles, proofs.
 */
package lipsanon.change;
