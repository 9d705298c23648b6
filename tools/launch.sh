# How the program is started: sourced by the launcher of this folder and built into that of a
# package. Expects $java, $app (the folder of the jars) and $archive (that of prepared classes).

heap=-XX:MaxRAMPercentage=70
args=()
while [ $# -gt 0 ]; do
  case $1 in
    --memory)
      [ $# -ge 2 ] || { echo "lipsanon: --memory takes a size, for example 1g" >&2; exit 2; }
      heap=-Xmx$2; shift 2 ;;
    --memory=*) heap=-Xmx${1#--memory=}; shift ;;
    *) args+=("$1"); shift ;;
  esac
done
case $heap in
  -Xmx*) [[ ${heap#-Xmx} =~ ^[0-9]+[kKmMgG]$ ]] || { echo "lipsanon: --memory takes a size such as 512m or 4g" >&2; exit 2; } ;;
esac

# so that the commands that answers suggest can be pasted
if [ "$(command -v lipsanon || true)" != "$0" ]; then export LIPSANON_COMMAND=$0; fi
if [ -t 0 ]; then export LIPSANON_IN_TERMINAL=1; fi
if [ -t 1 ]; then export LIPSANON_OUT_TERMINAL=1; fi
if [ -t 2 ] && [ "${TERM:-}" != dumb ]; then
  export LIPSANON_ERR_TERMINAL=1
  if [ -z "${COLUMNS:-}" ]; then
    size=$(stty size 2>/dev/null </dev/tty || true)
    if [ -n "$size" ]; then export COLUMNS=${size#* }; fi
  fi
fi

# Java 17 takes the encoding of file names from the locale, and plain C has none
case ${LC_ALL:-${LC_CTYPE:-${LANG:-}}} in
  ''|C|POSIX) export LC_ALL=C.UTF-8 LIPSANON_ASCII=1 ;;
esac

# the optimising compiler pays only where much is to be read: a question about what is indexed already,
# and indexing of small and middle dumps, are over before (measured: the border is at about 1 GB)
new=0
whole=0
every=
index_dir=
previous=
for arg in ${args[@]+"${args[@]}"}; do
  case $arg in --index-dir=*) index_dir=${arg#--index-dir=} ;; --all) every=1 ;; esac
  if [ "$previous" = --index-dir ]; then index_dir=$arg; fi
  previous=$arg
done
indexed() { # FILE: whether an index of that name lies where it would be looked for
  if [ -n "$index_dir" ]; then [ -e "$index_dir/${1##*/}.lipsanon/meta" ]; return; fi
  if [ -e "$1.lipsanon/meta" ]; then return 0; fi
  for meta in "${XDG_CACHE_HOME:-${HOME:-}/.cache}/lipsanon/"*"-${1##*/}.lipsanon/meta"; do
    if [ -e "$meta" ]; then return 0; fi
  done
  return 1
}
count() { # FILE
  size=$(stat -L -c %s "$1" 2>/dev/null || echo 0)
  if indexed "$1"; then whole=$((whole + size)); else new=$((new + size)); fi
}
for arg in ${args[@]+"${args[@]}"}; do
  if [ -f "$arg" ]; then
    count "$arg"
  elif [ -d "$arg" ]; then
    # the snapshots of a series
    for file in "$arg"/*.hprof "$arg"/*.heapsnapshot "$arg"/*.nettrace "$arg"/*.core; do
      if [ -f "$file" ]; then count "$file"; fi
    done
  fi
done
# the quick compiler is called early: long loops run in steps, and are worth it from the first on
mode=(-XX:+UseSerialGC -XX:TieredStopAtLevel=1 -XX:Tier3BackEdgeThreshold=5000
  -XX:Tier3InvocationThreshold=200 -XX:Tier3MinInvocationThreshold=100 -XX:Tier3CompileThreshold=1000)
# what does not change within a loop is read before it in long loops too, and more is put into them
# (measured: a twentieth of all processor time)
mode+=(-XX:ValueMapMaxLoopSize=128 -XX:C1MaxInlineSize=45)
# the optimising one is kept from what costs it more than these passes over memory gain: guesses about
# loops that soon prove wrong, and long methods put into others (a third less of its time); and a loop
# is left to be called for a while, in steps, so that it need not be compiled once more while it runs
# (a quarter less of its time, a tenth of all processor time)
if [ "$new" -gt 1000000000 ]; then
  mode=(-XX:+UseSerialGC -XX:-UseProfiledLoopPredicate -XX:FreqInlineSize=150
    -XX:Tier4BackEdgeThreshold=400000 -XX:Tier4MinInvocationThreshold=30
    -XX:Tier4InvocationThreshold=15000 -XX:Tier4CompileThreshold=45000)
fi
# where nothing is to be read anew hardly anything runs often enough to be worth compiling
if [ "$new" -eq 0 ] && [ "$whole" -le 600000000 ]; then
  mode=(-XX:+UseSerialGC -XX:TieredStopAtLevel=1 -XX:Tier3InvocationThreshold=600
    -XX:Tier3MinInvocationThreshold=300 -XX:Tier3CompileThreshold=2500 -XX:Tier3BackEdgeThreshold=25000)
fi
# questions about sets go through a large heap as a whole
case ${args[0]:-} in
  sift | refs | keepers | why | explore | sql)
    if [ "$whole" -gt 600000000 ]; then mode=(-XX:+UseSerialGC); fi ;;
esac
case ${args[0]:-} in
  report) if [ "$whole" -gt 100000000 ]; then mode=(-XX:+UseSerialGC); fi ;;
  export) every=1 ;;
  # many short passes: the quick compiler is through before the other has begun (measured: 6 s, not 9)
  savings) if [ "$whole" -gt 2000000000 ]; then mode=(-XX:+UseSerialGC); fi ;;
esac
# each object is read, told and written (measured: 5 s, not 9; of a list 8 s, not 22)
if [ -n "$every" ] && [ "$new" -eq 0 ] && [ "$whole" -gt 10000000 ]; then mode=(-XX:+UseSerialGC); fi
# arrays of working memory go to the old generation at once: nothing is gained by copying them, nor
# by collecting them before the heap grows
if [ "$new" -gt 100000000 ] || { [ "${args[0]:-}" = savings ] && [ "$whole" -gt 100000000 ]; }; then
  mode+=(-XX:PretenureSizeThreshold=1m -XX:+UseTransparentHugePages)
  # each of many short-lived threads would take megabytes for its few small objects
  mode+=(-XX:TLABSize=64k -XX:-ResizeTLAB)
  case $heap in
    -Xmx*) mode+=("-Xms${heap#-Xmx}") ;;
    *) mode+=(-XX:MaxNewSize=16m -XX:InitialRAMPercentage=35) ;;
  esac
fi
case $heap in
  # a young generation of fixed size would eat up a small heap
  -Xmx*) mode+=(-XX:NewRatio=8) ;;
esac
# what is large and seldom needed lies apart
path="$app/*"
case ${args[0]:-} in
  sql | fleet | report | export | '' | --help | -h) path="$path:$app/sql/*" ;;
esac
case ${args[0]:-} in export) path="$path:$app/parquet/*" ;; esac
# newer VMs warn of libraries with native parts, such as the embedded database, before each answer
exec "$java" -XX:+IgnoreUnrecognizedVMOptions --enable-native-access=ALL-UNNAMED -Xlog:disable -Xshare:auto "$heap" "${mode[@]}" \
  -XX:SharedArchiveFile="$archive" -cp "$path" lipsanon.cli.Main ${args[@]+"${args[@]}"}
