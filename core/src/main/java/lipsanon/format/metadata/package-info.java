/** The metadata of .NET assemblies, as the open standard ECMA-335 has it. */
package lipsanon.format.metadata;
