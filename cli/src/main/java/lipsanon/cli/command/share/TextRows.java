package lipsanon.cli.command.share;

import java.io.Flushable;
import lipsanon.question.ExportQuestion;

/** Rows that are written as text; what was written is handed on at the end. */
interface TextRows extends ExportQuestion.Rows, Flushable {}
