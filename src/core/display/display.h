// What the window draws: plain numbers made from shapes, without knowledge of any window.
#pragma once

#include <cstdint>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/check/comb.h"
#include "core/document/evaluator.h"
#include "core/grid/count_plot.h"
#include "core/operations/report.h"
#include "core/points/shaping.h"

namespace evenclay {

/// Triangles ready for the graphics card.
struct DisplayMesh {
  std::vector<float> vertices;  ///< 6 numbers each: position, normal
  std::vector<std::uint32_t> indices;
  Box3 box;
  bool closed = false;  ///< bounds a volume: its back sides need not be drawn
  /// Of surfaces: u and v of each vertex as shares of the domain; empty for meshes.
  std::vector<float> shares;
  struct Piece {
    std::uint32_t first_vertex = 0;  ///< vertices from here on belong to this surface
    bool closed_u = false, closed_v = false;
  };
  std::vector<Piece> pieces;  ///< one for each surface
};

/// A number for each vertex of a mesh: mm outside (+) or inside (−) another shape, or the greatest
/// bend in 1/mm.
struct DisplayValues {
  std::vector<float> values;
  double reach = 0.0;  ///< what the ends of the colour map stand for
};

/// Line pieces: 6 numbers each, from and to.
struct DisplayLines {
  std::vector<float> pieces;
};

/// How finely shapes are drawn.
class FormPlans;
struct DisplayQuality {
  double chord_share = 4e-4;  ///< greatest distance of triangles from the surface ÷ size
  std::size_t most_triangles = 120000;
  bool flat_faces = false;     ///< forms as their polygons
  FormPlans* plans = nullptr;  ///< where plans of forms are kept between pictures; may be null
};
inline constexpr DisplayQuality kCoarse{2e-3, 12000};
inline constexpr DisplayQuality kSmall{6e-3, 3000};  ///< for side views of a hundred pixels

DisplayMesh display_mesh(const Shape& shape, const DisplayQuality& quality, Progress& progress);

/// About that many triangles that keep the form, for small pictures: edges are collapsed in the order of
/// what it costs (M. Garland, P. Heckbert, Surface simplification using quadric error metrics, 1997, by
/// meshoptimizer), never beyond `most_share` of the size. Vertices at one place count as one. A mesh that
/// is small already is returned as it is.
std::shared_ptr<const DisplayMesh> thinned(std::shared_ptr<const DisplayMesh> mesh,
                                           std::size_t triangles = kSmall.most_triangles,
                                           double most_share = 0.02);

/// Meshes of more than a million triangles are drawn with about half as many, by clustering of vertices (meshoptimizer);
/// others are left alone.
void thin_quickly(DisplayMesh& mesh);

/// Signed distances of the mesh's vertices from `other`; nothing when there is nothing to compare.
std::shared_ptr<const DisplayValues> deviation_values(const DisplayMesh& mesh, const Shape& other,
                                                      Progress& progress);

/// What the colours of the chosen part stand for, besides the deviation and the stretch.
enum class MapKind {
  None,
  Bend,       ///< greater principal curvature by size, 1/mm
  Gaussian,   ///< product of both, 1/mm²; signed
  Mean,       ///< their mean, 1/mm; signed, positive where it bends towards the outside
  Draft,      ///< angle between the surface and the pull, degrees: negative where it is undercut
  Thickness,  ///< of closed parts, mm, inwards along the normal
  Overhang,   ///< how far what looks down leans over the upright, degrees: 90 is a ceiling
};

/// The values of a map at each vertex; `reach` is that which all but a fiftieth of the vertices keep below, so that one
/// sharp place does not hide the others; of the thickness three times the usual wall, of draft and overhang 10° and 45°.
/// A vertex for which there is none has kNoValue. Nothing where the map has no
/// meaning for the shape: bends of meshes, thickness of open parts. `pull` is for the draft.
std::shared_ptr<const DisplayValues> map_values(MapKind kind, const DisplayMesh& mesh,
                                                const Shape& shape, const Vec3& pull,
                                                Progress& progress);
inline constexpr float kNoValue = 1e30F;

/// The stretch at each vertex of a form's mesh (subdivision/form_stretch.h), percent; nothing where the form is drawn by its
/// polygons.
std::shared_ptr<const DisplayValues> form_stretch_values(const DisplayMesh& mesh, const Form& form);

/// A place on a drawn surface: which surface of the part, and the shares of its domain.
struct SurfacePlace {
  int surface = 0;
  double u = 0.0, v = 0.0;  ///< 0..1
};
/// Between three vertices of `mesh`, at barycentric weights b and c of the second and third.
std::optional<SurfacePlace> place_in_triangle(const DisplayMesh& mesh, std::size_t triangle,
                                              double b, double c);

/// The curves of a part as line pieces, at least `per_span` a span; nothing for other shapes.
DisplayLines curve_lines(const Shape& shape, int per_span);

/// Curves, the edges of a body, and the open borders of whole surfaces that are no poles.
std::vector<Curve> edges_of(const Shape& shape);

/// Edges of trimmed faces as line pieces: joined ones first of all; `open` are those that one face alone uses, `gaps` those
/// whose faces lie farther from them than the limit, mm. Nothing for whole surfaces and other shapes.
struct DisplayEdges : DisplayLines {
  std::vector<float> open, gaps;
};
DisplayEdges edge_lines(const Shape& shape, double gap_limit);

/// Iso-curves at the knots of every surface and half-way between them; nothing for meshes.
DisplayLines iso_curves(const Shape& shape);

class MeshRays;
struct TileDisplay;  // display/pattern_display.h

/// A plane whose sections are wanted, with their combs.
struct SectionWish {
  Vec3 origin, normal;  ///< the normal has length 1
  int per_span = 7;     ///< cells a span in which the section is looked for
  bool operator==(const SectionWish&) const = default;
};
/// The combs of all sections of the surfaces of a shape with the plane. Throws Cancelled.
std::vector<Comb> section_combs(const Shape& shape, const SectionWish& wish, Progress& progress);

/// One part as it is to be drawn.
struct DisplayPart {
  PartId part = 0;
  ShapePtr shape;
  std::shared_ptr<const DisplayMesh> mesh;
  std::shared_ptr<const DisplayMesh> small;  ///< the same for side views
  std::shared_ptr<const DisplayLines> lines;
  std::shared_ptr<const DisplayLines> curves =
      nullptr;  ///< of a part made of curves; in every look
  /// From what the part is watched against, else from the shape before; only when wanted.
  std::shared_ptr<const DisplayValues> deviation;
  std::shared_ptr<const DisplayValues> map;  ///< only when wanted
  std::shared_ptr<const DisplayValues> stretch =
      nullptr;  ///< of a pattern and its target; only when wanted
  std::shared_ptr<const DisplayEdges> edges = nullptr;  ///< of trimmed faces
  /// Joints that its last shown step is to keep, and, when wanted, all of the chosen body.
  std::vector<JointBadge> joints = {};
  /// For what is under the cursor; null in coarse answers.
  std::shared_ptr<const MeshRays> rays = nullptr;
};

struct StepStatus {
  bool failed = false;
  std::string message;
  std::vector<std::string> notes;
  std::optional<KeptShape> kept;
};

/// An answer of the worker. A coarse one holds only the chosen part; one that only brings gauges for
/// a picture already sent holds no parts.
struct DisplayAnswer {
  std::size_t request = 0;
  bool exact = false;
  std::vector<DisplayPart> parts;
  std::map<StepId, StepStatus> steps;
  std::string
      trouble;  ///< a sentence when the answer could not be made; it holds nothing else then
  PartId chosen = 0;
  StepId shown_step = 0;
  ShapePtr shown;   ///< the chosen part after the shown step
  ShapePtr before;  ///< … and before it; null for a source
  /// What the shown step does to the nets of `before`, when it is Shaped points, carried over to
  /// them where they have changed. Null for other steps, and when it cannot be carried.
  std::shared_ptr<const Shapings> shapings;
  /// The nets they are on, where those are the step's own and not those of `before`.
  std::shared_ptr<const Nets> hand_nets = nullptr;
  /// Curves that they lead (HandNets::lines); null where there are none.
  std::shared_ptr<const std::vector<std::vector<Vec3>>> hand_lines = nullptr;
  /// Where the shown step's pattern lies and how well; null for other steps.
  std::shared_ptr<const PatternFacts> pattern = nullptr;
  /// What the shown step has matched with what (Outcome::marks).
  std::vector<std::array<Vec3, 2>> marks = {};
  std::vector<StepHandle> handles = {};               ///< of the shown step
  std::shared_ptr<const TileDisplay> tile = nullptr;  ///< of the shown shape; only when wanted
  std::shared_ptr<const Report> gauges;  ///< of the shown shape; null when not computed yet
  std::shared_ptr<const DisplayMesh> before_mesh;     ///< only when wanted
  std::shared_ptr<const std::vector<Comb>> sections;  ///< of the shown shape; only when wanted
  std::shared_ptr<const DisplayLines> watched_section =
      nullptr;  ///< … and of what it is watched against
  /// What other counts would do, when the shown step is a Rebuild and it is wanted.
  std::shared_ptr<const std::vector<CountPlace>> plot;
};

}  // namespace evenclay
