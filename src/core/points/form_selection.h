// Faces and edges of subdivision forms as they are picked: by name, so that they stay picked whatever is changed below.
// Thread-safe.
#pragma once

#include <functional>

#include "core/body/pick.h"
#include "core/points/net.h"
#include "core/points/symmetry.h"

namespace evenclay {

/// The form of a net, with its places. Without creases.
Form form_of(const FormNet& net);

/// The points that the named faces, edges or points have. Names that are gone are passed over.
Selection points_of(const FormNet& net, PickKind kind, const std::vector<Tag>& tags);

/// Those that are still there, each once, in their order.
std::vector<Tag> still_there(const FormNet& net, PickKind kind, const std::vector<Tag>& tags);

/// Names with a place to find them by when the name is gone.
std::vector<Pick> as_picks(const FormNet& net, PickKind kind, const std::vector<Tag>& tags);

/// All faces, edges or points all of whose points (or at least one, `touched`) are inside.
std::vector<Tag> tags_where(const FormNet& net, PickKind kind,
                            const std::function<bool(const Vec3&)>& inside, bool touched);

/// All faces, edges or points all of whose points are named.
std::vector<Tag> tags_with(const FormNet& net, PickKind kind, const Selection& points);

/// With the mirror images behind them, in every plane after the other.
std::vector<Tag> with_mirrored(const FormNet& net, PickKind kind, std::vector<Tag> tags,
                               const std::vector<MirrorMap>& mirrors);

/// With all that share a point with them; without those that share one with what is not picked.
std::vector<Tag> grown(const FormNet& net, PickKind kind, const std::vector<Tag>& tags);
std::vector<Tag> shrunk(const FormNet& net, PickKind kind, const std::vector<Tag>& tags);

/// The loops that picked edges lead to straight on; borders for border edges.
std::vector<Tag> loops_along(const FormNet& net, const std::vector<Tag>& edges);
/// The edges of the rings that picked edges belong to: those that an inserted loop would cross.
std::vector<Tag> rings_across(const FormNet& net, const std::vector<Tag>& edges);
/// Of faces: the bands of quadrangles between two neighbours of them, all the way on. Of one face alone both bands.
std::vector<Tag> bands_along(const FormNet& net, const std::vector<Tag>& faces);

}  // namespace evenclay
