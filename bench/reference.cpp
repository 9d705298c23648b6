// What a careful single-threaded program does with a dump of a JVM's heap, as a yardstick: it reads
// the records, turns identifiers into numbers by a rank bitmap, collects the edges, searches what is
// reached, finds dominators by semi-NCA and adds up retained sizes (12-byte headers, rounded up to
// 8). It writes nothing and explains nothing. Prints the seconds of each step, and of all.
#include "seminca.h"
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <string>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>
#include <unordered_map>
#include <unordered_set>
#include <vector>

typedef const unsigned char *Bytes;

struct Class {
  uint64_t super = 0;
  bool weak = false;                           // what the field "referent" refers to is not kept
  std::vector<std::pair<uint64_t, char>> own;  // name and type of its own fields
  std::vector<uint32_t> references;            // offsets in an instance's values, superclasses' included
  std::vector<uint64_t> targets;               // superclass, loader, statics and so on
  uint32_t instance = 0;
  bool ready = false;
};

static Bytes data, dataEnd;
static int idBytes;
static std::unordered_map<uint64_t, Class> classes;
static std::unordered_map<uint64_t, std::string> texts;
static std::unordered_map<uint64_t, uint64_t> classNames;
static std::vector<uint64_t> rootIds;
static uint64_t least = UINT64_MAX, most = 0, objects = 0;
static std::vector<uint64_t> bits;
static std::vector<uint32_t> ranks;
static std::vector<uint32_t> begins, degrees, sizes, edges;

static double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}
static inline uint16_t u2(Bytes p) { return uint16_t(p[0] << 8 | p[1]); }
static inline uint32_t u4(Bytes p) { uint32_t v; memcpy(&v, p, 4); return __builtin_bswap32(v); }
static inline uint64_t u8(Bytes p) { uint64_t v; memcpy(&v, p, 8); return __builtin_bswap64(v); }
static inline uint64_t id(Bytes p) { return idBytes == 8 ? u8(p) : u4(p); }
static int width(int type) {
  switch (type) {
    case 2: return idBytes;
    case 4: case 8: return 1;
    case 5: case 9: return 2;
    case 6: case 10: return 4;
    case 7: case 11: return 8;
  }
  fprintf(stderr, "a type that is none: %d\n", type);
  exit(1);
}

// the number of an object, from 1; 0 for what is none
static inline uint32_t number(uint64_t address) {
  if (address < least || address > most) return 0;
  uint64_t slot = (address - least) >> 3;
  uint64_t word = bits[slot >> 6];
  if (!(word >> (slot & 63) & 1)) return 0;
  return ranks[slot >> 6] + __builtin_popcountll(word & ((uint64_t(1) << (slot & 63)) - 1)) + 1;
}

template <class Visitor>
static void heap(Bytes p, Bytes end, Visitor &visitor) {
  while (p < end) {
    int tag = *p++;
    switch (tag) {
      case 0xFF: case 0x05: case 0x07: visitor.root(id(p)); p += idBytes; break;
      case 0x01: visitor.root(id(p)); p += 2 * idBytes; break;
      case 0x02: case 0x03: case 0x08: visitor.root(id(p)); p += idBytes + 8; break;
      case 0x04: case 0x06: visitor.root(id(p)); p += idBytes + 4; break;
      case 0x20: p = visitor.classDump(p); break;
      case 0x21: {
        uint32_t length = u4(p + 2 * idBytes + 4);
        visitor.instance(id(p), id(p + idBytes + 4), p + 2 * idBytes + 8);
        p += 2 * idBytes + 8 + length;
        break;
      }
      case 0x22: {
        uint32_t length = u4(p + idBytes + 4);
        visitor.references(id(p), id(p + idBytes + 8), length, p + 2 * idBytes + 8);
        p += 2 * idBytes + 8 + uint64_t(length) * idBytes;
        break;
      }
      case 0x23: {
        uint32_t length = u4(p + idBytes + 4);
        int size = width(p[idBytes + 8]);
        visitor.values(id(p), uint64_t(length) * size);
        p += idBytes + 9 + uint64_t(length) * size;
        break;
      }
      default: fprintf(stderr, "a record that is none: %d\n", tag); exit(1);
    }
  }
}

template <class Visitor>
static void records(Visitor &visitor) {
  Bytes p = data + strlen(reinterpret_cast<const char *>(data)) + 13;
  while (p + 9 <= dataEnd) {
    int tag = *p;
    uint64_t length = u4(p + 5);
    p += 9;
    if (tag == 0x0C || tag == 0x1C) heap(p, p + length, visitor);
    else visitor.other(tag, p, length);
    p += length;
  }
}

struct First {
  std::vector<uint64_t> ids;
  void add(uint64_t address) {
    ids.push_back(address);
    if (address < least) least = address;
    if (address > most) most = address;
  }
  void other(int tag, Bytes p, uint64_t length) {
    if (tag == 0x02) classNames[id(p + 4)] = id(p + 8 + idBytes);
    if (tag == 0x01 && length - idBytes < 64)
      texts[id(p)] = std::string(reinterpret_cast<const char *>(p + idBytes), length - idBytes);
  }
  void root(uint64_t address) { rootIds.push_back(address); }
  void instance(uint64_t address, uint64_t, Bytes) { add(address); }
  void references(uint64_t address, uint64_t, uint32_t, Bytes) { add(address); }
  void values(uint64_t address, uint64_t) { add(address); }
  Bytes classDump(Bytes p) {
    uint64_t address = id(p);
    add(address);
    Class &made = classes[address];
    made.super = id(p + idBytes + 4);
    for (int i = 0; i < 4; i++) made.targets.push_back(id(p + (1 + i) * idBytes + 4));
    made.instance = u4(p + 7 * idBytes + 4);
    p += 7 * idBytes + 8;
    int left = u2(p);
    for (p += 2; left > 0; left--) {
      int type = p[2];
      if (type == 2) made.targets.push_back(id(p + 3));
      p += 3 + width(type);
    }
    left = u2(p);
    for (p += 2; left > 0; left--) {
      int type = p[idBytes];
      if (type == 2) made.targets.push_back(id(p + idBytes + 1));
      p += idBytes + 1 + width(type);
    }
    left = u2(p);
    for (p += 2; left > 0; left--) {
      made.own.push_back({id(p), char(p[idBytes])});
      p += idBytes + 1;
    }
    return p;
  }
};

static const std::string &nameOf(uint64_t address) { return texts[classNames[address]]; }

static void prepare(Class &made, uint64_t address) {
  if (made.ready) return;
  made.ready = true;
  uint32_t offset = 0;
  bool weak = false, soft = false;
  for (uint64_t at = address; at != 0; at = classes[at].super) {
    const std::string &name = nameOf(at);
    soft |= name == "java/lang/ref/SoftReference";
    weak |= name == "java/lang/ref/Reference";
  }
  for (uint64_t at = address; at != 0; at = classes[at].super) {
    bool reference = nameOf(at) == "java/lang/ref/Reference";
    for (auto &field : classes[at].own) {
      bool skipped = reference && weak && !soft && texts[field.first] == "referent";
      if (field.second == 2 && !skipped) made.references.push_back(offset);
      offset += width(field.second);
    }
  }
}

struct Second {
  uint64_t lastClass = 0;
  Class *last = nullptr;
  Class *of(uint64_t address) {
    if (address != lastClass) {
      last = &classes[address];
      prepare(*last, address);
      lastClass = address;
    }
    return last;
  }
  uint32_t begin(uint64_t address, uint64_t bytes) {
    uint32_t n = number(address);
    sizes[n] = uint32_t((bytes + 7) >> 3);
    begins[n] = uint32_t(edges.size());
    return n;
  }
  void edge(uint64_t target) {
    uint32_t n = number(target);
    if (n != 0) edges.push_back(n);
  }
  void end(uint32_t n) { degrees[n] = uint32_t(edges.size()) - begins[n]; }
  void other(int, Bytes, uint64_t) {}
  void root(uint64_t) {}
  void instance(uint64_t address, uint64_t cls, Bytes values) {
    Class *made = of(cls);
    uint32_t n = begin(address, 12 + made->instance);
    edge(cls);
    for (uint32_t offset : made->references) edge(id(values + offset));
    end(n);
  }
  void references(uint64_t address, uint64_t cls, uint32_t length, Bytes values) {
    uint32_t n = begin(address, 16 + uint64_t(length) * 4);
    edge(cls);
    for (uint32_t i = 0; i < length; i++) edge(id(values + uint64_t(i) * idBytes));
    end(n);
  }
  void values(uint64_t address, uint64_t bytes) { end(begin(address, 16 + bytes)); }
  Bytes classDump(Bytes p) {
    uint64_t address = id(p);
    uint32_t n = begin(address, 120);
    for (uint64_t target : classes[address].targets) edge(target);
    end(n);
    p += 7 * idBytes + 8;
    int left = u2(p);
    for (p += 2; left > 0; left--) p += 3 + width(p[2]);
    left = u2(p);
    for (p += 2; left > 0; left--) p += idBytes + 1 + width(p[idBytes]);
    left = u2(p);
    return p + 2 + left * (idBytes + 1);
  }
};

static double before;
static void step(const char *name) {
  double at = now();
  printf("%s %.2f\n", name, at - before);
  before = at;
}

int main(int argc, char **argv) {
  if (argc != 2) { fprintf(stderr, "usage: reference DUMP\n"); return 2; }
  int file = open(argv[1], O_RDONLY);
  struct stat about;
  if (file < 0 || fstat(file, &about)) { perror(argv[1]); return 1; }
  data = Bytes(mmap(nullptr, about.st_size, PROT_READ, MAP_PRIVATE | MAP_POPULATE, file, 0));
  if (data == MAP_FAILED) { perror(argv[1]); return 1; }
  dataEnd = data + about.st_size;
  idBytes = int(u4(data + strlen(reinterpret_cast<const char *>(data)) + 1));
  double started = before = now();

  First first;
  records(first);
  objects = first.ids.size();
  step("records");

  bits.resize(((most - least) >> 9) + 1);
  for (uint64_t address : first.ids) bits[(address - least) >> 9] |= uint64_t(1) << ((address - least) >> 3 & 63);
  ranks.resize(bits.size());
  for (uint64_t i = 0, sum = 0; i < bits.size(); i++) {
    ranks[i] = uint32_t(sum);
    sum += __builtin_popcountll(bits[i]);
  }
  std::vector<uint64_t>().swap(first.ids);
  step("numbers");

  uint32_t nodes = uint32_t(objects) + 1;
  begins.resize(nodes);
  degrees.resize(nodes);
  sizes.resize(nodes);
  edges.reserve(objects * 3);
  Second second;
  records(second);
  begins[0] = uint32_t(edges.size());
  std::unordered_set<uint32_t> seen;
  for (uint64_t root : rootIds) {
    uint32_t n = number(root);
    if (n != 0 && seen.insert(n).second) edges.push_back(n);
  }
  degrees[0] = uint32_t(edges.size()) - begins[0];
  step("edges");

  {
    std::vector<uint32_t> depth(nodes, 0), queue;
    queue.reserve(nodes);
    queue.push_back(0);
    depth[0] = 1;
    for (size_t i = 0; i < queue.size(); i++) {
      uint32_t n = queue[i];
      for (uint32_t e = begins[n]; e < begins[n] + degrees[n]; e++)
        if (depth[edges[e]] == 0) {
          depth[edges[e]] = depth[n] + 1;
          queue.push_back(edges[e]);
        }
    }
    step("reached");
  }

  std::vector<uint32_t> vertex, idom;
  semiNca(
      nodes, [](uint32_t n) { return uint64_t(begins[n]); },
      [](uint32_t n) { return uint64_t(begins[n]) + degrees[n]; }, edges, vertex, idom);
  uint32_t count = uint32_t(vertex.size());
  step("dominators");

  std::vector<uint64_t> retained(count);
  for (uint32_t v = count - 1; v > 0; v--) {
    retained[v] += sizes[vertex[v]];
    retained[idom[v]] += retained[v];
  }
  std::vector<uint64_t> byNode(nodes);
  for (uint32_t v = 0; v < count; v++) byNode[vertex[v]] = retained[v] * 8;
  step("retained");
  printf("all %.2f\n", now() - started);
  printf("objects %llu edges %zu reached %u bytes %llu\n", (unsigned long long)objects, edges.size(), count - 1,
         (unsigned long long)byNode[0]);
}
