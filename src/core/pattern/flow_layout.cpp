#include "core/pattern/flow_layout.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstring>
#include <numeric>
#include <unordered_map>

#include "core/base/error.h"
#include "core/base/memory.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/pattern/border_cut.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostVertices = 20'000'000;

struct Key {
  std::int64_t s, t, z;
  bool operator==(const Key&) const = default;
};
struct KeyHash {
  std::size_t operator()(const Key& k) const {
    std::uint64_t h = static_cast<std::uint64_t>(k.s) * 0x9E3779B97F4A7C15ULL;
    h = (h ^ (h >> 29)) + static_cast<std::uint64_t>(k.t) * 0xBF58476D1CE4E5B9ULL;
    h = (h ^ (h >> 31)) + static_cast<std::uint64_t>(k.z) * 0x94D049BB133111EBULL;
    return static_cast<std::size_t>(h ^ (h >> 30));
  }
};

// Numbers different values in the order of their first use: an open hash, since regular tiles have few of them. What comes
// row by row is followed without it: the value after this one is most often the one that came after it before.
class Numbering {
 public:
  explicit Numbering(std::size_t most) {
    std::size_t size = 64;
    while (size < 2 * most) size *= 2;
    slots_.assign(size, kFree);
  }
  std::uint32_t of(double x) {
    x += 0.0;  // −0 and 0 are one
    if (const std::uint32_t next = after_[last_]; next < values.size() && values[next] == x)
      return last_ = next;
    if (!values.empty() && values[last_] == x) return last_;
    const std::uint32_t found = searched(x);
    after_[last_] = found;
    return last_ = found;
  }
  std::vector<double> values;

 private:
  std::uint32_t searched(double x) {
    std::uint64_t bits = 0;
    std::memcpy(&bits, &x, sizeof bits);
    bits *= 0x9E3779B97F4A7C15ULL;
    for (std::size_t k = (bits ^ (bits >> 32)) & (slots_.size() - 1);;
         k = (k + 1) & (slots_.size() - 1)) {
      if (slots_[k] == kFree) {
        slots_[k] = static_cast<std::uint32_t>(values.size());
        values.push_back(x);
        after_.push_back(kFree);
      }
      if (values[slots_[k]] == x) return slots_[k];
    }
  }
  static constexpr std::uint32_t kFree = 0xFFFFFFFF;
  std::vector<std::uint32_t> slots_;
  std::vector<std::uint32_t> after_{kFree};  // one for each value, and one before there are any
  std::uint32_t last_ = 0;
};

FlowPlaces table_of(const std::vector<TileVertex>& tile, double TileVertex::*which) {
  Numbering numbering(tile.size() + 2);
  numbering.of(0.0);
  numbering.of(1.0);
  FlowPlaces table;
  table.place.reserve(tile.size());
  for (const TileVertex& v : tile) table.place.push_back(numbering.of(v.*which));
  const std::vector<double>& raw = numbering.values;
  std::vector<std::uint32_t> by(raw.size());
  std::iota(by.begin(), by.end(), 0U);
  std::sort(by.begin(), by.end(),
            [&](std::uint32_t x, std::uint32_t y) { return raw[x] < raw[y]; });
  std::vector<std::uint32_t> sorted(raw.size());
  for (const std::uint32_t k : by) {
    if (table.values.empty() || raw[k] - table.values.back() > 1e-13)
      table.values.push_back(raw[k]);
    sorted[k] = static_cast<std::uint32_t>(table.values.size()) - 1;
  }
  for (std::uint32_t& p : table.place) p = sorted[p];
  return table;
}

// The first of the border vertices that are one.
struct First {
  std::uint32_t vertex, source;
  std::int16_t a, b;
};

// Border vertices by their places. Tiles come column by column, so only the border to the next column, and what the
// last one closes on, has to be remembered, unless tiles are to be cut afterwards.
class BorderTable {
 public:
  explicit BorderTable(bool keep_all) : keep_all_(keep_all) {}
  std::pair<First, bool> try_emplace(const Key& key, const First& first) {
    const auto [at, fresh] = (key.s == 0 ? lasting_ : now_).try_emplace(key, first);
    return {at->second, fresh};
  }
  const First* find(const Key& key) const {
    const auto& table = key.s == 0 ? lasting_ : now_;
    const auto at = table.find(key);
    return at == table.end() ? nullptr : &at->second;
  }
  // A column is done; `next` is the grain of its far border.
  void next_column(std::int64_t next) {
    if (keep_all_) return;
    Map kept;
    for (const auto& entry : now_)
      if (entry.first.s == next) kept.insert(entry);
    now_ = std::move(kept);
  }
  // As if `columns` more had been laid out like the last one: what it left behind lies so much farther on.
  void go_on(int columns, std::int64_t next, std::uint32_t vertices) {
    Map moved;
    for (const auto& [key, first] : now_)
      moved.emplace(Key{next, key.t, key.z},
                    First{first.vertex + vertices, first.source,
                          static_cast<std::int16_t>(first.a + columns), first.b});
    now_ = std::move(moved);
  }

 private:
  using Map = std::unordered_map<Key, First, KeyHash>;
  Map lasting_, now_;
  bool keep_all_;
};

// Where a column of repeats begins in what is laid out.
struct Marks {
  std::size_t vertices, triangles, joints;
};

class Layer {
 public:
  Layer(FlowLayout& to, const BasedTile& from, bool mirrored, Progress& progress)
      : l_(to),
        from_(from),
        mirrored_(mirrored),
        progress_(progress),
        borders_(to.options.cut != nullptr) {}
  void turn_tile();
  void run();

 private:
  bool made(int a, int b) const {
    const FlowOptions& o = l_.options;
    return o.made.empty() || o.made[static_cast<std::size_t>(a * o.count_v + b)];
  }
  static bool on_border(const TileVertex& v) {
    return v.s == 0.0 || v.s == 1.0 || v.t == 0.0 || v.t == 1.0;
  }
  Marks marks() const { return {l_.vertices.size(), l_.triangles.size(), l_.joints.size()}; }
  std::int64_t grain(double value) const { return std::llround(value / l_.options.weld); }
  std::vector<std::uint32_t> order() const;
  Key border_key(const TileVertex& v, int a, int b) const;
  void add(std::uint32_t k, int a, int b);
  void add_column(int a);
  void add_triangles(const std::uint32_t* number);
  void repeat_column(const std::array<Marks, 4>& begun, int columns);
  void add_cut_tiles();

  FlowLayout& l_;
  const BasedTile& from_;
  bool mirrored_;
  Progress& progress_;
  BorderTable borders_;
  std::vector<std::uint32_t> by_;      // places of the tile's vertices by s, then t
  std::vector<std::uint32_t> number_;  // of the column's vertices, by repeat and tile vertex
};

void Layer::turn_tile() {
  const FlowOptions& o = l_.options;
  make_room(l_.tile, from_.vertices.size());
  l_.tile.resize(from_.vertices.size());
  const auto snap = [&](double x) {
    return std::abs(x) < o.weld || std::abs(x - 1.0) < o.weld ? std::round(x) : x;
  };
  Progress quiet;
  parallel_blocks(l_.tile.size(), 32768, quiet, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      TileVertex w = turned(from_.vertices[k], o);
      w.s = snap(w.s);
      w.t = snap(w.t);
      l_.tile[k] = w;
    }
  });
  parallel_blocks(2, 1, quiet, [&](std::size_t which, std::size_t) {
    (which == 0 ? l_.s : l_.t) = table_of(l_.tile, which == 0 ? &TileVertex::s : &TileVertex::t);
  });
}

std::vector<std::uint32_t> Layer::order() const {
  std::vector<std::uint32_t> by(l_.tile.size());
  std::iota(by.begin(), by.end(), 0U);
  const auto& s = l_.s.place;
  const auto& t = l_.t.place;
  const auto before = [&](std::uint32_t x, std::uint32_t y) {
    return s[x] != s[y] ? s[x] < s[y] : t[x] < t[y];
  };
  if (!std::is_sorted(by.begin(), by.end(), before)) std::sort(by.begin(), by.end(), before);
  return by;
}

Key Layer::border_key(const TileVertex& v, int a, int b) const {
  const FlowOptions& o = l_.options;
  const FlowEnds& ends = l_.ends;
  double x = a + v.s;
  double y = b + v.t;
  if (ends.around_s && x >= o.count_u) x -= o.count_u;
  if (ends.around_t && y >= o.count_v) y -= o.count_v;
  // All of a pole is one place: the key forgets where on the collapsed border it is.
  if ((ends.pole[0] && x == 0.0) || (ends.pole[1] && x == o.count_u)) y = 0.0;
  if ((ends.pole[2] && y == 0.0) || (ends.pole[3] && y == o.count_v)) x = 0.0;
  return {grain(x), grain(y), grain(v.z)};
}

void Layer::add_triangles(const std::uint32_t* number) {
  std::vector<std::array<std::uint32_t, 3>>& triangles = l_.triangles;
  const std::size_t first = triangles.size();
  triangles.resize(first + from_.triangles.size());
  std::atomic<bool> collapsed = false;  // some, at a pole
  Progress quiet;
  parallel_blocks(from_.triangles.size(), 65536, quiet, [&](std::size_t begin, std::size_t end) {
    bool any = false;
    for (std::size_t k = begin; k < end; ++k) {
      const auto& tri = from_.triangles[k];
      std::array<std::uint32_t, 3> n{number[tri[0]], number[tri[1]], number[tri[2]]};
      if (mirrored_) std::swap(n[1], n[2]);
      any = any || n[0] == n[1] || n[1] == n[2] || n[2] == n[0];
      triangles[first + k] = n;
    }
    if (any) collapsed = true;
  });
  if (!collapsed) return;
  triangles.erase(
      std::remove_if(triangles.begin() + static_cast<std::ptrdiff_t>(first), triangles.end(),
                     [](const auto& n) { return n[0] == n[1] || n[1] == n[2] || n[2] == n[0]; }),
      triangles.end());
}

void Layer::add(std::uint32_t k, int a, int b) {
  const auto fresh = static_cast<std::uint32_t>(l_.vertices.size());
  std::uint32_t& mine = number_[static_cast<std::size_t>(b) * l_.tile.size() + k];
  mine = fresh;
  const auto a16 = static_cast<std::int16_t>(a);
  const auto b16 = static_cast<std::int16_t>(b);
  if (on_border(l_.tile[k])) {
    const auto [first, is_new] =
        borders_.try_emplace(border_key(l_.tile[k], a, b), First{fresh, k, a16, b16});
    if (!is_new) {
      mine = first.vertex;
      if (first.a != a16 || first.b != b16)
        l_.joints.push_back({first.source, k, first.a, first.b, a16, b16});
      return;
    }
  }
  l_.vertices.push_back({k, static_cast<std::uint32_t>(
                                static_cast<std::size_t>(b) * l_.t.values.size() + l_.t.place[k])});
}

void Layer::add_column(int a) {
  const int count_v = l_.options.count_v;
  progress_.report(0.2 * a / l_.options.count_u);
  for (std::size_t from_k = 0, to_k = 0; to_k < by_.size(); from_k = to_k) {
    const std::uint32_t row = l_.s.place[by_[from_k]];
    while (to_k < by_.size() && l_.s.place[by_[to_k]] == row) ++to_k;
    l_.run_begin.resize(static_cast<std::size_t>(a) * l_.s.values.size() + row + 1,
                        static_cast<std::uint32_t>(l_.vertices.size()));
    for (int b = 0; b < count_v; ++b)
      if (made(a, b))
        for (std::size_t k = from_k; k < to_k; ++k) add(by_[k], a, b);
  }
  for (int b = 0; b < count_v; ++b)
    if (made(a, b)) add_triangles(&number_[static_cast<std::size_t>(b) * l_.tile.size()]);
  borders_.next_column(grain(a + 1));
}

// Columns behind the third are the third moved along: what was new there is new again, what was a vertex of the first column
// (a pole) still is, all else lies so much farther on. `begun`: where the first four columns begin.
void Layer::repeat_column(const std::array<Marks, 4>& begun, int columns) {
  const Marks from = begun[2],
              size{begun[3].vertices - begun[2].vertices, begun[3].triangles - begun[2].triangles,
                   begun[3].joints - begun[2].joints};
  const auto more = static_cast<std::size_t>(columns);
  // Touching so much memory for the first time takes as long as filling it: side by side.
  Progress quiet;
  parallel_blocks(3, 1, quiet, [&](std::size_t what, std::size_t) {
    if (what == 0) l_.triangles.resize(begun[3].triangles + more * size.triangles);
    if (what == 1) l_.vertices.resize(begun[3].vertices + more * size.vertices);
    if (what == 2) l_.joints.resize(begun[3].joints + more * size.joints);
  });
  const std::size_t rows = l_.s.values.size();
  l_.run_begin.resize(3 * rows, static_cast<std::uint32_t>(begun[3].vertices));
  l_.run_begin.resize((3 + more) * rows);
  parallel_blocks(more, 1, progress_, [&](std::size_t column, std::size_t) {
    const auto by = static_cast<std::uint32_t>((column + 1) * size.vertices);
    const auto moved = [&](std::uint32_t v) { return v < begun[1].vertices ? v : v + by; };
    const auto at = [&](auto& values, std::size_t begin, std::size_t count) {
      return values.begin() + static_cast<std::ptrdiff_t>(begin + (column + 1) * count);
    };
    const auto part = [&](auto& values, std::size_t begin, std::size_t count) {
      return std::span(values).subspan(begin, count);
    };
    const auto old = part(l_.vertices, from.vertices, size.vertices);
    std::copy(old.begin(), old.end(), at(l_.vertices, from.vertices, size.vertices));
    auto triangle = at(l_.triangles, from.triangles, size.triangles);
    for (const auto& n : part(l_.triangles, from.triangles, size.triangles))
      *triangle++ = {moved(n[0]), moved(n[1]), moved(n[2])};
    const auto farther = static_cast<std::int16_t>(column + 1);
    auto joint = at(l_.joints, from.joints, size.joints);
    for (FlowJoint j : part(l_.joints, from.joints, size.joints)) {
      if (j.kept_a != 0) j.kept_a = static_cast<std::int16_t>(j.kept_a + farther);
      j.other_a = static_cast<std::int16_t>(j.other_a + farther);
      *joint++ = j;
    }
    for (std::size_t row = 0; row < rows; ++row)
      l_.run_begin[(3 + column) * rows + row] = l_.run_begin[2 * rows + row] + by;
  });
  borders_.go_on(columns, grain(3 + columns), static_cast<std::uint32_t>(more * size.vertices));
}

void Layer::run() {
  const FlowOptions& o = l_.options;
  by_ = order();
  const auto count_u = static_cast<std::size_t>(o.count_u),
             count_v = static_cast<std::size_t>(o.count_v);
  make_room(l_.vertices, l_.tile.size() * count_u * count_v);
  make_room(l_.triangles, from_.triangles.size() * count_u * count_v);
  number_.resize(l_.tile.size() * count_v);
  const bool alike = o.made.empty() && o.cut == nullptr;
  std::array<Marks, 4> begun{};
  for (int a = 0; a < o.count_u; ++a) {
    if (a < 4) begun[static_cast<std::size_t>(a)] = marks();
    // The last one may close on the first, or end in a pole.
    if (a == 3 && alike && o.count_u > 5) {
      repeat_column(begun, o.count_u - 4);
      a = o.count_u - 1;
    }
    add_column(a);
  }
  l_.run_begin.resize(count_u * l_.s.values.size() + 1,
                      static_cast<std::uint32_t>(l_.vertices.size()));
  if (o.cut && !o.made.empty()) add_cut_tiles();
}

// What is left of the repeats that the target's border crosses. Their own vertices are there once, and are those of
// whole tiles beside them where they meet.
void Layer::add_cut_tiles() {
  const FlowOptions& options = l_.options;
  const auto& tile = l_.tile;
  auto& vertices = l_.vertices;
  auto& cut_vertices = l_.cut_vertices;
  auto& triangles = l_.triangles;
  const BorderCutter cutter(*options.cut);
  std::unordered_map<Key, std::uint32_t, KeyHash> placed_borders;
  for (int a = 0; a < options.count_u; ++a)
    for (int b = 0; b < options.count_v; ++b) {
      if (made(a, b)) continue;
      progress_.check();
      const CutTile cut = cutter.cut(tile, from_.triangles, a, b);
      const auto add = [&](TileVertex v) {
        cut_vertices.push_back(v);
        return static_cast<std::uint32_t>(vertices.size() + cut_vertices.size()) - 1;
      };
      std::unordered_map<std::uint32_t, std::uint32_t> own;
      const auto number = [&](std::uint32_t k) {
        const auto [at, is_new] = own.try_emplace(k, 0);
        if (!is_new) return at->second;
        TileVertex v = k < tile.size() ? tile[k] : cut.fresh[k - tile.size()];
        if (k < tile.size()) {
          v.s += a;
          v.t += b;
        }
        for (double* x : {&v.s, &v.t})
          if (std::abs(*x - std::round(*x)) < 2.0 * options.weld) *x = std::round(*x);
        if (v.s != std::round(v.s) && v.t != std::round(v.t)) return at->second = add(v);
        const Key key = border_key(v, 0, 0);
        if (const First* whole = borders_.find(key); whole != nullptr)
          return at->second = whole->vertex;
        const auto [there, first] = placed_borders.try_emplace(key, 0);
        if (first) there->second = add(v);
        return at->second = there->second;
      };
      for (const auto& tri : cut.triangles) {
        std::array<std::uint32_t, 3> n{number(tri[0]), number(tri[1]), number(tri[2])};
        if (mirrored_) std::swap(n[1], n[2]);
        if (n[0] != n[1] && n[1] != n[2] && n[2] != n[0]) triangles.push_back(n);
      }
    }
  if (triangles.empty())
    throw Error(say("The pattern lies beside the face everywhere. Choose another band."));
}

}  // namespace

void check_layout(const BasedTile& tile, const FlowOptions& o) {
  if (tile.triangles.empty())
    throw Error(say("The tile is empty. Choose a tile part that has a shape."));
  check_counts(o);
  const auto total = tile.vertices.size() * static_cast<std::size_t>(o.count_u) *
                     static_cast<std::size_t>(o.count_v);
  if (total > kMostVertices)
    throw Error(say(
        "{} × {} repeats of a tile with {} vertices make {} million vertices; at most 20 million "
        "can be made. Use fewer repeats or a coarser tile.",
        o.count_u, o.count_v, tile.vertices.size(), total / 1000000));
  if (!o.cut && !o.made.empty() &&
      std::none_of(o.made.begin(), o.made.end(), [](bool b) { return b; }))
    throw Error(
        say("No whole tile lies on the face. Use more and smaller tiles, or a band beside the "
            "opening."));
}

FlowLayout laid_out(const BasedTile& tile, const FlowOptions& options, const FlowEnds& ends,
                    bool mirrored, Progress& progress) {
  FlowLayout layout;
  layout.options = options;
  layout.ends = ends;
  Layer layer(layout, tile, mirrored, progress);
  layer.turn_tile();
  layer.run();
  return layout;
}

}  // namespace evenclay
