#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <cstring>
#include <numeric>
#include <unordered_map>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/memory.h"
#include "core/base/parallel.h"
#include "core/pattern/border_cut.h"
#include "core/pattern/flow.h"
#include "core/pattern/flow_ends.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostVertices = 20'000'000;
constexpr std::size_t kMostJoints = 20'000;

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

// A vertex of the pattern: which tile vertex, and its place in the table of places along t. Eight bytes, since
// memory is what a pattern of millions waits for.
struct FlatVertex {
  std::uint32_t source, t_place;
};

// Where two tiles meet: the vertex, and the tile vertex that would have been there.
struct Joint {
  std::uint32_t kept, other;
  std::int16_t kept_a, kept_b, other_a, other_b;
};

// The different values in order, and for each vertex the place of its own among them. Values nearer than a
// 1e-13th of a tile are one, so that rounding does not tear rows apart.
struct Table {
  std::vector<double> values;
  std::vector<std::uint32_t> place;
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

Table table_of(const std::vector<TileVertex>& tile, double TileVertex::*which) {
  Numbering numbering(tile.size() + 2);
  numbering.of(0.0);
  numbering.of(1.0);
  Table table;
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

void check_size(const BasedTile& tile, const FlowOptions& o) {
  if (tile.triangles.empty())
    throw Error("The tile is empty. Choose a tile part that has a shape.");
  check_counts(o);
  const auto total = tile.vertices.size() * static_cast<std::size_t>(o.count_u) *
                     static_cast<std::size_t>(o.count_v);
  if (total > kMostVertices)
    throw Error(fmt::format(
        "{} × {} repeats of a tile with {} vertices make {} million vertices; at most 20 million "
        "can be made. Use fewer repeats or a coarser tile.",
        o.count_u, o.count_v, tile.vertices.size(), total / 1000000));
  if (!o.cut && !o.made.empty() &&
      std::none_of(o.made.begin(), o.made.end(), [](bool b) { return b; }))
    throw Error(
        "No whole tile lies on the face. Use more and smaller tiles, or a band beside the "
        "opening.");
}

}  // namespace

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

 private:
  using Map = std::unordered_map<Key, First, KeyHash>;
  Map lasting_, now_;
  bool keep_all_;
};

struct FlowPlan::Impl {
  FlowOptions options;
  FlowEnds ends;
  std::vector<TileVertex> tile;  // turned
  Table s, t;
  std::vector<FlatVertex> vertices;      // run by run
  std::vector<std::uint32_t> run_begin;  // runs: repeat a, value of s; one more than there are
  std::vector<std::array<std::uint32_t, 3>> triangles;
  std::vector<Joint> joints;
  std::vector<TileVertex>
      cut_vertices;  // of cut tiles, behind the others; s and t count all repeats

  Impl(const BasedTile& from, const FlowOptions& o, const FlowEnds& e) : options(o), ends(e) {
    make_room(tile, from.vertices.size());
    tile.resize(from.vertices.size());
    const auto snap = [&](double x) {
      return std::abs(x) < o.weld || std::abs(x - 1.0) < o.weld ? std::round(x) : x;
    };
    Progress quiet;
    parallel_blocks(tile.size(), 32768, quiet, [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k) {
        TileVertex w = turned(from.vertices[k], o);
        w.s = snap(w.s);
        w.t = snap(w.t);
        tile[k] = w;
      }
    });
    parallel_blocks(2, 1, quiet, [&](std::size_t which, std::size_t) {
      (which == 0 ? s : t) = table_of(tile, which == 0 ? &TileVertex::s : &TileVertex::t);
    });
  }
  bool made(int a, int b) const {
    return options.made.empty() || options.made[static_cast<std::size_t>(a * options.count_v + b)];
  }
  static bool on_border(const TileVertex& v) {
    return v.s == 0.0 || v.s == 1.0 || v.t == 0.0 || v.t == 1.0;
  }
  // Places of the tile's vertices by s, then t.
  std::vector<std::uint32_t> order() const {
    std::vector<std::uint32_t> by(tile.size());
    std::iota(by.begin(), by.end(), 0U);
    const auto before = [&](std::uint32_t x, std::uint32_t y) {
      return s.place[x] != s.place[y] ? s.place[x] < s.place[y] : t.place[x] < t.place[y];
    };
    if (!std::is_sorted(by.begin(), by.end(), before)) std::sort(by.begin(), by.end(), before);
    return by;
  }
  Key border_key(const TileVertex& v, int a, int b) const {
    double x = a + v.s;
    double y = b + v.t;
    if (ends.around_s && x >= options.count_u) x -= options.count_u;
    if (ends.around_t && y >= options.count_v) y -= options.count_v;
    // All of a pole is one place: the key forgets where on the collapsed border it is.
    if ((ends.pole[0] && x == 0.0) || (ends.pole[1] && x == options.count_u)) y = 0.0;
    if ((ends.pole[2] && y == 0.0) || (ends.pole[3] && y == options.count_v)) x = 0.0;
    const auto grain = [&](double value) { return std::llround(value / options.weld); };
    return {grain(x), grain(y), grain(v.z)};
  }
  void add_cut_tiles(const BasedTile& from, const BorderTable& borders, bool mirrored,
                     Progress& progress);
  void lay_out(const BasedTile& from, bool mirrored, Progress& progress);
  void add_triangles(const BasedTile& from, const std::uint32_t* number, bool mirrored);
};

void FlowPlan::Impl::add_triangles(const BasedTile& from, const std::uint32_t* number,
                                   bool mirrored) {
  const std::size_t first = triangles.size();
  triangles.resize(first + from.triangles.size());
  std::atomic<bool> collapsed = false;  // some, at a pole
  Progress quiet;
  parallel_blocks(from.triangles.size(), 65536, quiet, [&](std::size_t begin, std::size_t end) {
    bool any = false;
    for (std::size_t k = begin; k < end; ++k) {
      const auto& tri = from.triangles[k];
      std::array<std::uint32_t, 3> n{number[tri[0]], number[tri[1]], number[tri[2]]};
      if (mirrored) std::swap(n[1], n[2]);
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

// Repeats the tile and joins meeting borders; vertices come run by run, so that mapping them is quick.
void FlowPlan::Impl::lay_out(const BasedTile& from, bool mirrored, Progress& progress) {
  const std::vector<std::uint32_t> by = order();
  const auto count_v = static_cast<std::size_t>(options.count_v);
  const std::size_t all = tile.size() * static_cast<std::size_t>(options.count_u) * count_v;
  make_room(vertices, all);
  make_room(triangles, from.triangles.size() * static_cast<std::size_t>(options.count_u) * count_v);
  BorderTable borders(options.cut != nullptr);
  std::vector<std::uint32_t> number(tile.size() * count_v);
  const auto add = [&](std::uint32_t k, int a, int b) {
    const auto fresh = static_cast<std::uint32_t>(vertices.size());
    std::uint32_t& mine = number[static_cast<std::size_t>(b) * tile.size() + k];
    mine = fresh;
    const auto a16 = static_cast<std::int16_t>(a);
    const auto b16 = static_cast<std::int16_t>(b);
    if (on_border(tile[k])) {
      const auto [first, is_new] =
          borders.try_emplace(border_key(tile[k], a, b), First{fresh, k, a16, b16});
      if (!is_new) {
        mine = first.vertex;
        if (first.a != a16 || first.b != b16)
          joints.push_back({first.source, k, first.a, first.b, a16, b16});
        return;
      }
    }
    vertices.push_back({k, static_cast<std::uint32_t>(
                               static_cast<std::size_t>(b) * t.values.size() + t.place[k])});
  };
  for (int a = 0; a < options.count_u; ++a) {
    progress.report(0.2 * a / options.count_u);
    for (std::size_t from_k = 0, to_k = 0; to_k < by.size(); from_k = to_k) {
      const std::uint32_t row = s.place[by[from_k]];
      while (to_k < by.size() && s.place[by[to_k]] == row) ++to_k;
      run_begin.resize(static_cast<std::size_t>(a) * s.values.size() + row + 1,
                       static_cast<std::uint32_t>(vertices.size()));
      for (int b = 0; b < options.count_v; ++b)
        if (made(a, b))
          for (std::size_t k = from_k; k < to_k; ++k) add(by[k], a, b);
    }
    for (int b = 0; b < options.count_v; ++b)
      if (made(a, b))
        add_triangles(from, &number[static_cast<std::size_t>(b) * tile.size()], mirrored);
    borders.next_column(std::llround((a + 1) / options.weld));
  }
  run_begin.resize(static_cast<std::size_t>(options.count_u) * s.values.size() + 1,
                   static_cast<std::uint32_t>(vertices.size()));
  if (options.cut && !options.made.empty()) add_cut_tiles(from, borders, mirrored, progress);
}

// What is left of the repeats that the target's border crosses. Their own vertices are there once, and are those of
// whole tiles beside them where they meet.
void FlowPlan::Impl::add_cut_tiles(const BasedTile& from, const BorderTable& borders, bool mirrored,
                                   Progress& progress) {
  const BorderCutter cutter(*options.cut);
  std::unordered_map<Key, std::uint32_t, KeyHash> placed_borders;
  for (int a = 0; a < options.count_u; ++a)
    for (int b = 0; b < options.count_v; ++b) {
      if (made(a, b)) continue;
      progress.check();
      const CutTile cut = cutter.cut(tile, from.triangles, a, b);
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
        if (const First* whole = borders.find(key); whole != nullptr)
          return at->second = whole->vertex;
        const auto [there, first] = placed_borders.try_emplace(key, 0);
        if (first) there->second = add(v);
        return at->second = there->second;
      };
      for (const auto& tri : cut.triangles) {
        std::array<std::uint32_t, 3> n{number(tri[0]), number(tri[1]), number(tri[2])};
        if (mirrored) std::swap(n[1], n[2]);
        if (n[0] != n[1] && n[1] != n[2] && n[2] != n[0]) triangles.push_back(n);
      }
    }
  if (triangles.empty())
    throw Error("The pattern lies beside the face everywhere. Choose another band.");
}

FlowPlan::FlowPlan(const BasedTile& tile, const Chart& chart, const FlowOptions& o,
                   Progress& progress) {
  check_size(tile, o);
  const FlowEnds ends = ends_of(chart, o);
  auto impl = std::make_shared<Impl>(tile, o, ends);
  impl->lay_out(tile, is_mirrored(chart, o), progress);
  impl_ = std::move(impl);
}

std::size_t FlowPlan::vertex_count() const {
  return impl_->vertices.size() + impl_->cut_vertices.size();
}

std::size_t FlowPlan::bytes() const {
  const Impl& i = *impl_;
  return i.tile.size() * (sizeof(TileVertex) + 8) + (i.s.values.size() + i.t.values.size()) * 8 +
         i.vertices.size() * sizeof(FlatVertex) + i.triangles.size() * sizeof(i.triangles[0]) +
         i.joints.size() * sizeof(Joint) + i.run_begin.size() * 4 +
         i.cut_vertices.size() * sizeof(TileVertex);
}

std::string FlowPlan::key(const Chart& chart, const FlowOptions& o) {
  const FlowEnds e = ends_of(chart, o);
  std::string made;
  for (const bool m : o.made) made += m ? '1' : '0';
  if (o.cut)
    for (const auto& loop : o.cut->loops)
      for (const Parameter& p : loop) made += fmt::format(" {:.9g},{:.9g}", p.u, p.v);
  const ChartRegion& r = o.region;
  return fmt::format("{} {} {} {} {} | {} {} {} | {} {} {} {} | {} {} {} {} | {}", o.count_u,
                     o.count_v, static_cast<int>(o.corner), o.flip_u, o.flip_v, side_of(chart, o),
                     o.even, o.weld, r.s_from, r.s_to, r.t_from, r.t_to, e.around_s, e.around_t,
                     fmt::join(e.pole, ""), chart.cells.rows() * 1000 + chart.cells.columns(),
                     made);
}

namespace {

// Inputs of the kernel for a piece of a run, as planes.
struct Batch {
  static constexpr std::size_t kMost = 128;
  std::array<double, kMost> v, h, nu, nv, nh;
  std::array<unsigned char, kMost> sound;
};

}  // namespace

TriangleMesh FlowPlan::onto(const Chart& chart, const HeightRule& heights,
                            Progress& progress) const {
  const Impl& plan = *impl_;
  const FlowOptions& o = plan.options;
  if (ends_of(chart, o) != plan.ends)
    throw Error("The target of the pattern is closed in another way than before.");
  const FlowMap map(chart, o, heights);
  std::vector<Spread::Place> along_t(plan.t.values.size() * static_cast<std::size_t>(o.count_v));
  for (std::size_t k = 0; k < along_t.size(); ++k)
    along_t[k] = map.along_t().at(
        (static_cast<double>(k / plan.t.values.size()) + plan.t.values[k % plan.t.values.size()]) /
        o.count_v);
  TriangleMesh result;
  // Room for a pattern of millions takes as long as mapping it: side by side.
  parallel_blocks(3, 1, progress, [&](std::size_t what, std::size_t) {
    const std::size_t count = plan.vertices.size() + plan.cut_vertices.size();
    if (what < 2) {
      std::vector<Vec3>& room = what == 0 ? result.points : result.normals;
      make_room(room, count);
      room.resize(count);
    } else {
      make_room(result.triangles, plan.triangles.size());
      result.triangles = plan.triangles;
    }
  });
  progress.report(0.25);

  std::vector<double> per_v;  // repeats by v, for the normals
  per_v.reserve(along_t.size());
  for (const Spread::Place& v : along_t) per_v.push_back(heights.factor * rate(o.count_v, v.slope));
  const bool plain = heights.plain();

  // `count` vertices of one run from `begin` on, all in one cell.
  const auto piece = [&](Batch& batch, const Spread::Place& u, double share_s, int row,
                         std::size_t begin, std::size_t count) {
    const double per_u = heights.factor * rate(o.count_u, u.slope);
    for (std::size_t k = 0; k < count; ++k) {
      const FlatVertex& f = plan.vertices[begin + k];
      const TileVertex& w = plan.tile[f.source];
      batch.v[k] = along_t[f.t_place].parameter;
      if (plain) {
        batch.h[k] = heights.factor * w.z + heights.offset;
        batch.nu[k] = w.slope.x * per_u;
        batch.nv[k] = w.slope.y * per_v[f.t_place];
        batch.nh[k] = w.slope.z;
        continue;
      }
      const double share_t =
          (static_cast<double>(f.t_place / plan.t.values.size()) + w.t) / o.count_v;
      const FlowInput in = flow_input(w, u, along_t[f.t_place], share_s, share_t, o, heights);
      batch.h[k] = in.h;
      batch.nu[k] = in.nu;
      batch.nv[k] = in.nv;
      batch.nh[k] = in.nh;
    }
    const SurfaceEvaluator& evaluator = *map.evaluators_(u.cell, row);
    const kernels::FlowRun run{u.parameter,     count,           batch.v.data(),  batch.h.data(),
                               batch.nu.data(), batch.nv.data(), batch.nh.data(), map.side_};
    evaluator.flow(run, std::span(result.points).subspan(begin, count),
                   std::span(result.normals).subspan(begin, count), batch.sound);
    for (std::size_t k = 0; k < count; ++k) {
      if (batch.sound[k]) continue;  // below: a pole, whose normal is the limit from inside
      const Vec3 n = normal(*map.surfaces_(u.cell, row), u.parameter, batch.v[k]) * map.side_;
      result.points[begin + k] = evaluator.point(u.parameter, batch.v[k]) + n * batch.h[k];
      result.normals[begin + k] = n;
    }
  };
  parallel_blocks(plan.vertices.size(), 8192, progress, [&](std::size_t begin, std::size_t end) {
    Batch batch;
    const auto next = std::upper_bound(plan.run_begin.begin(), plan.run_begin.end(), begin);
    auto run = static_cast<std::size_t>(next - plan.run_begin.begin()) - 1;
    while (begin < end) {
      while (plan.run_begin[run + 1] <= begin) ++run;
      const std::size_t run_end = std::min<std::size_t>(end, plan.run_begin[run + 1]);
      const double share_s = (static_cast<double>(run / plan.s.values.size()) +
                              plan.s.values[run % plan.s.values.size()]) /
                             o.count_u;
      const Spread::Place u = map.along_s().at(share_s);
      while (begin < run_end) {
        const int row = along_t[plan.vertices[begin].t_place].cell;
        std::size_t count = 1;
        while (count < Batch::kMost && begin + count < run_end &&
               along_t[plan.vertices[begin + count].t_place].cell == row)
          ++count;
        piece(batch, u, share_s, row, begin, count);
        begin += count;
      }
    }
  });
  parallel_blocks(plan.cut_vertices.size(), 512, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const FlowMap::Placed p = map.placed(plan.cut_vertices[k], 0, 0);
      result.points[plan.vertices.size() + k] = p.point;
      result.normals[plan.vertices.size() + k] = p.normal;
    }
  });
  progress.report(1.0);
  return result;
}

FlowJoints FlowPlan::joints(const Chart& chart, const HeightRule& heights) const {
  const Impl& plan = *impl_;
  const FlowMap map(chart, plan.options, heights);
  FlowJoints report;
  report.places = plan.joints.size();
  const std::size_t step = plan.joints.size() / kMostJoints + 1;
  std::size_t looked_at = 0;
  for (std::size_t k = 0; k < plan.joints.size(); k += step, ++looked_at) {
    const Joint& j = plan.joints[k];
    const FlowMap::Placed a = map.placed(plan.tile[j.kept], j.kept_a, j.kept_b);
    const FlowMap::Placed b = map.placed(plan.tile[j.other], j.other_a, j.other_b);
    const double angle = degrees_between(a.normal, b.normal);
    report.mean += angle;
    if (angle <= report.angle) continue;
    report.angle = angle;
    report.at = a.point;
  }
  if (looked_at > 0) report.mean /= static_cast<double>(looked_at);
  return report;
}

TriangleMesh flow(const BasedTile& tile, const Chart& chart, const FlowOptions& options,
                  const HeightRule& heights, Progress& progress) {
  return FlowPlan(tile, chart, options, progress).onto(chart, heights, progress);
}

}  // namespace evenclay
