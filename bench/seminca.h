// A plain single-threaded semi-NCA, for the programs that ours is compared with.
#pragma once
#include <cstdint>
#include <vector>

// The dominators of what node 0 reaches. begin(n) and end(n) tell where a node's targets stand.
// vertex: by number in depth-first order the node; idom: by number that of the dominator.
template <class Begin, class End>
static void semiNca(uint32_t nodes, Begin begin, End end, const std::vector<uint32_t> &targets,
                    std::vector<uint32_t> &vertex, std::vector<uint32_t> &idom) {
  std::vector<uint32_t> number(nodes, UINT32_MAX), parent;
  std::vector<uint64_t> cursor(nodes);
  for (uint32_t n = 0; n < nodes; n++) cursor[n] = begin(n);
  vertex.reserve(nodes);
  parent.reserve(nodes);
  std::vector<uint32_t> stack{0};
  number[0] = 0;
  vertex.push_back(0);
  parent.push_back(0);
  while (!stack.empty()) {
    uint32_t n = stack.back();
    if (cursor[n] == end(n)) { stack.pop_back(); continue; }
    uint32_t t = targets[cursor[n]++];
    if (number[t] != UINT32_MAX) continue;
    number[t] = vertex.size();
    vertex.push_back(t);
    parent.push_back(number[n]);
    stack.push_back(t);
  }
  uint32_t count = vertex.size();
  std::vector<uint64_t> first(uint64_t(count) + 2, 0);
  for (uint32_t v = 0; v < count; v++)
    for (uint64_t e = begin(vertex[v]); e < end(vertex[v]); e++) first[number[targets[e]] + 2]++;
  for (uint32_t v = 1; v < count + 2; v++) first[v] += first[v - 1];
  std::vector<uint32_t> sources(first[count + 1]);
  for (uint32_t v = 0; v < count; v++)
    for (uint64_t e = begin(vertex[v]); e < end(vertex[v]); e++) sources[first[number[targets[e]] + 1]++] = v;
  std::vector<uint32_t> semi(count), label(count), above(parent), path;
  for (uint32_t v = count - 1; v > 0; v--) {
    uint32_t least = parent[v];
    for (uint64_t e = first[v]; e < first[v + 1]; e++) {
      uint32_t s = sources[e];
      if (s > v) {
        uint32_t top = s;
        path.clear();
        while (above[top] > v) { path.push_back(top); top = above[top]; }
        uint32_t low = label[top], up = above[top];
        while (!path.empty()) {
          uint32_t x = path.back();
          path.pop_back();
          if (label[x] > low) label[x] = low; else low = label[x];
          above[x] = up;
        }
        s = label[s];
      }
      if (s < least) least = s;
    }
    semi[v] = label[v] = least;
  }
  idom.assign(count, 0);
  for (uint32_t v = 1; v < count; v++) {
    uint32_t d = parent[v];
    while (d > semi[v]) d = idom[d];
    idom[v] = d;
  }
}
