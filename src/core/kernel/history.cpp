#include "core/kernel/history.h"

#include <fmt/format.h>

#include <BRepCheck_Analyzer.hxx>
#include <BRep_Tool.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_DataMapOfShapeInteger.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>
#include <algorithm>
#include <map>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/body/topology.h"

namespace evenclay::kernel {

namespace {

// Where a face of the result comes from.
struct Source {
  const Face* face = nullptr;  // it is, or is a piece of
  Tag tag = 0;
};

class Namer {
 public:
  Namer(std::span<const Given> given, const History& history, int step)
      : given_(given), history_(history), step_(step) {}

  Body run(const TopoDS_Shape& result, Progress& progress) {
    TopExp::MapShapes(result, there_);
    for (const Given& g : given_) {
      follow_faces(g);
      follow_edges(g);
    }
    Body body = from_kernel(
        result,
        [&](const TopoDS_Face& face, std::size_t n) {
          const int* at = face_of_.Seek(face);
          const Source from =
              at != nullptr ? sources_[static_cast<std::size_t>(*at)] : Source{nullptr, 0};
          return Origin{from.face, from.tag != 0 ? from.tag : make_tag(step_, 0, n), false};
        },
        [&](const TopoDS_Edge& edge, std::size_t) {
          const int* at = edge_of_.Seek(edge);
          return at != nullptr ? tags_[static_cast<std::size_t>(*at)] : Tag{0};
        },
        progress);
    give_own_names(body, step_);
    name_new_edges(body);
    give_own_names(body, step_);
    return body;
  }

 private:
  void bind(const TopoDS_Shape& face, const Source& source) {
    if (!there_.Contains(face) || face_of_.IsBound(face)) return;
    face_of_.Bind(face, static_cast<int>(sources_.size()));
    sources_.push_back(source);
  }

  void follow_faces(const Given& g) {
    for (std::size_t f = 0; f < g.shape.faces.size(); ++f) {
      const Face& ours = g.body->faces[f];
      const TopTools_ListOfShape pieces = history_.modified(g.shape.faces[f]);
      if (pieces.IsEmpty()) bind(g.shape.faces[f], {&ours, ours.tag});
      for (const TopoDS_Shape& s : pieces) bind(s, source_of_piece(ours, g.shape.faces[f], s));
      std::uint64_t n = 0;
      for (const TopoDS_Shape& s : history_.generated(g.shape.faces[f]))
        if (s.ShapeType() == TopAbs_FACE) bind(s, {nullptr, make_tag(step_, ours.tag, 101 + n++)});
    }
  }

  // Some algorithms put another surface under a face that they changed.
  static Source source_of_piece(const Face& ours, const TopoDS_Shape& old,
                                const TopoDS_Shape& now) {
    if (now.ShapeType() != TopAbs_FACE) return {};
    TopLoc_Location a, b;
    const bool same =
        BRep_Tool::Surface(TopoDS::Face(old), a) == BRep_Tool::Surface(TopoDS::Face(now), b) &&
        a == b;
    return {same ? &ours : nullptr, ours.tag};
  }

  void follow_edges(const Given& g) {
    for (std::size_t e = 0; e < g.shape.edges.size(); ++e) {
      const TopoDS_Edge& edge = g.shape.edges[e];
      if (edge.IsNull()) continue;
      const Tag tag = g.body->edges[e].tag;
      const TopTools_ListOfShape pieces = history_.modified(edge);
      if (pieces.IsEmpty() && there_.Contains(edge)) name_edge(edge, tag);
      for (const TopoDS_Shape& s : pieces) name_edge(s, tag);
      std::uint64_t n = 0;
      for (const TopoDS_Shape& s : history_.generated(edge))
        if (s.ShapeType() == TopAbs_FACE) bind(s, {nullptr, make_tag(step_, tag, 201 + n++)});
    }
    follow_corners(g);
  }

  // What is made where edges end is named after all of them together.
  void follow_corners(const Given& g) {
    std::map<int, Tag> mixed;
    TopTools_IndexedMapOfShape corners;
    for (std::size_t e = 0; e < g.shape.edges.size(); ++e) {
      if (g.shape.edges[e].IsNull()) continue;
      for (TopExp_Explorer v(g.shape.edges[e], TopAbs_VERTEX); v.More(); v.Next())
        mixed[corners.Add(v.Current())] ^= g.body->edges[e].tag * 2654435761U;
    }
    for (int k = 1; k <= corners.Extent(); ++k) {
      std::uint64_t n = 0;
      for (const TopoDS_Shape& s : history_.generated(corners(k)))
        if (s.ShapeType() == TopAbs_FACE) bind(s, {nullptr, make_tag(step_, mixed[k], 301 + n++)});
    }
  }

  void name_edge(const TopoDS_Shape& edge, Tag tag) {
    if (edge.ShapeType() != TopAbs_EDGE || edge_of_.IsBound(edge)) return;
    edge_of_.Bind(edge, static_cast<int>(tags_.size()));
    tags_.push_back(tag);
  }

  void name_new_edges(Body& body) const {
    const Topology t = topology(body);
    for (std::size_t e = 0; e < body.edges.size(); ++e) {
      if (body.edges[e].tag != 0) continue;
      Tag between = 0;
      for (const UsePlace& u : t.uses[e]) between += body.faces[u.face].tag * 2654435761U;
      body.edges[e].tag = make_tag(step_, between, 401);
    }
  }

  std::span<const Given> given_;
  const History& history_;
  int step_;
  TopTools_IndexedMapOfShape there_;
  TopTools_DataMapOfShapeInteger face_of_, edge_of_;
  std::vector<Source> sources_;
  std::vector<Tag> tags_;
};

}  // namespace

Body named_body(const TopoDS_Shape& result, std::span<const Given> given, const History& history,
                int step, Progress& progress) {
  return Namer(given, history, step).run(result, progress);
}

void give_own_names(Body& body, int step) {
  std::map<Tag, std::vector<std::size_t>> faces;
  for (std::size_t f = 0; f < body.faces.size(); ++f) faces[body.faces[f].tag].push_back(f);
  for (auto& [tag, pieces] : faces) {
    if (pieces.size() < 2) continue;
    std::stable_sort(pieces.begin(), pieces.end(), [&](std::size_t a, std::size_t b) {
      return parameter_area(body.faces[a]) > parameter_area(body.faces[b]);
    });
    for (std::size_t k = 1; k < pieces.size(); ++k)
      body.faces[pieces[k]].tag = make_tag(step, tag, k);
  }
  std::map<Tag, std::uint64_t> seen;
  for (Edge& e : body.edges)
    if (const std::uint64_t n = seen[e.tag]++; n > 0 && e.tag != 0)
      e.tag = make_tag(step, e.tag, 501 + n);
}

void Stop::check() const {
  progress_.check();
  if (late_)
    throw Error(
        say("The B-rep kernel has worked on this for {} s without an end. Give the curves "
            "fewer points, "
            "move the cut a little, or take a simpler part.",
            limit_.count()));
}

std::string faults_of(const TopoDS_Shape& shape, bool closed) {
  if (shape.IsNull()) return say("nothing came out");
  if (!TopExp_Explorer(shape, TopAbs_FACE).More()) return say("nothing is left");
  if (!BRepCheck_Analyzer(shape).IsValid()) return say("the result would not be sound");
  if (!closed) return {};
  TopTools_IndexedDataMapOfShapeListOfShape faces;
  TopExp::MapShapesAndAncestors(shape, TopAbs_EDGE, TopAbs_FACE, faces);
  for (int k = 1; k <= faces.Extent(); ++k) {
    const TopoDS_Edge& edge = TopoDS::Edge(faces.FindKey(k));
    if (BRep_Tool::Degenerated(edge) || faces(k).Extent() >= 2) continue;
    if (!BRep_Tool::IsClosed(edge, TopoDS::Face(faces(k).First())))
      return say("the result would not be closed");
  }
  return {};
}

}  // namespace evenclay::kernel
