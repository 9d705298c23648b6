// Dominators of a graph that DominatorBench wrote, by other programs: the Boost Graph Library's
// Lengauer-Tarjan ("boost"), and a plain single-threaded semi-NCA ("seminca"). Prints the seconds of
// the algorithm alone, reachability included, and the checksum of the dominators.
#include "seminca.h"
#include <boost/graph/compressed_sparse_row_graph.hpp>
#include <boost/graph/dominator_tree.hpp>
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <limits>
#include <pthread.h>
#include <string>
#include <vector>

typedef boost::compressed_sparse_row_graph<boost::bidirectionalS, boost::no_property,
                                           boost::no_property, boost::no_property, uint32_t, uint64_t> G;
namespace boost {
// the concept of a bidirectional graph asks for it, and the class has none
inline uint64_t degree(uint32_t v, const G &g) { return out_degree(v, g) + in_degree(v, g); }
}  // namespace boost

static std::vector<uint32_t> targets;
static std::vector<uint64_t> begins;
static uint32_t nodes;
static std::string method;

static uint32_t u4(FILE *in) {
  unsigned char b[4];
  if (fread(b, 1, 4, in) != 4) { fprintf(stderr, "the graph is cut off\n"); exit(1); }
  return uint32_t(b[0]) << 24 | b[1] << 16 | b[2] << 8 | b[3];
}

static void load(const char *name) {
  FILE *in = fopen(name, "rb");
  if (!in) { perror(name); exit(1); }
  setvbuf(in, nullptr, _IOFBF, 1 << 20);
  nodes = u4(in);
  uint64_t edges = uint64_t(u4(in)) << 32;
  edges |= u4(in);
  targets.reserve(edges);
  begins.reserve(nodes + 1);
  for (uint32_t n = 0; n < nodes; n++) {
    begins.push_back(targets.size());
    for (uint32_t left = u4(in); left > 0; left--) targets.push_back(u4(in));
  }
  begins.push_back(targets.size());
  fclose(in);
}

static void report(double seconds, const std::vector<uint32_t> &idom) {
  uint64_t sum = 0;
  for (uint64_t n = 1; n < nodes; n++)
    if (idom[n] != UINT32_MAX) sum += n * 0x9E3779B97F4A7C15ull ^ idom[n] * 0xC2B2AE3D27D4EB4Full;
  printf("%.3f %llx\n", seconds, (unsigned long long)sum);
}

static double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

static void byBoost() {
  std::vector<std::pair<uint32_t, uint32_t>> pairs;
  pairs.reserve(targets.size());
  for (uint32_t n = 0; n < nodes; n++)
    for (uint64_t e = begins[n]; e < begins[n + 1]; e++) pairs.push_back({n, targets[e]});
  G g(boost::edges_are_unsorted_multi_pass, pairs.begin(), pairs.end(), nodes);
  pairs.clear();
  pairs.shrink_to_fit();
  typedef boost::property_map<G, boost::vertex_index_t>::type Index;
  Index index = get(boost::vertex_index, g);
  uint32_t none = boost::graph_traits<G>::null_vertex();
  double before = now();
  // time stamps begin at the maximum, which the algorithm takes for "not reached"
  std::vector<uint64_t> stamps(nodes, std::numeric_limits<uint64_t>::max());
  std::vector<uint32_t> parents(nodes, none), byStamp(parents), dominators(nodes, none);
  auto map = [&](auto &v) { return boost::make_iterator_property_map(v.begin(), index); };
  boost::lengauer_tarjan_dominator_tree(g, 0u, index, map(stamps), map(parents), byStamp, map(dominators));
  double seconds = now() - before;
  for (uint32_t n = 0; n < nodes; n++) if (dominators[n] == none) dominators[n] = UINT32_MAX;
  report(seconds, dominators);
}

static void bySemiNca() {
  double before = now();
  std::vector<uint32_t> vertex, idom;
  semiNca(
      nodes, [](uint32_t n) { return begins[n]; }, [](uint32_t n) { return begins[n + 1]; }, targets, vertex, idom);
  double seconds = now() - before;
  std::vector<uint32_t> result(nodes, UINT32_MAX);
  for (uint32_t v = 1; v < vertex.size(); v++) result[vertex[v]] = vertex[idom[v]];
  report(seconds, result);
}

static void *run(void *) {
  if (method == "boost") byBoost(); else bySemiNca();
  return nullptr;
}

int main(int argc, char **argv) {
  if (argc != 3) { fprintf(stderr, "usage: dominators boost|seminca GRAPH\n"); return 2; }
  method = argv[1];
  load(argv[2]);
  // Boost's path compression recurses as deep as the graph
  pthread_attr_t attributes;
  pthread_attr_init(&attributes);
  pthread_attr_setstacksize(&attributes, size_t(12) << 30);
  pthread_t thread;
  if (pthread_create(&thread, &attributes, run, nullptr)) { fprintf(stderr, "no thread\n"); return 1; }
  pthread_join(thread, nullptr);
}
