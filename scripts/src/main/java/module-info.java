/** Reading JavaScript as text. Knows neither captures nor analysis. */
module lipsanon.scripts {
  exports lipsanon.scripts;
}
