// Edges of bodies split, merged and laid anew; faces taken apart; how far open edges lie from each other.
#pragma once

#include <array>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay {

/// The body with all borders as edges, so that every face and edge can be picked and followed: natural borders nearer
/// than 1e-6 mm to each other are one.
Body with_edges(const Body& body);

/// The greatest gap of the body's edges, mm.
double greatest_gap(const Body& body);

/// The edge in pieces at shares of its parameter (increasing, inside 0..1). The first piece keeps the name, the others
/// are named after it and the step. Throws Error when there is no such edge or a share is outside.
Body with_split_edge(const Body& body, std::size_t edge, const std::vector<double>& shares,
                     int step);

/// Edges that follow each other between the same faces become one where they go on within `degrees`; the first keeps
/// its name. `edges`: those that may be merged, all when empty.
struct MergedEdges {
  Body body;
  int merged = 0;              ///< edges that went
  double worst_refused = 0.0;  ///< degrees, of the smallest corner that was left
  Vec3 refused_at;
  int refused = 0;
};
MergedEdges with_merged_edges(const Body& body, const std::vector<std::size_t>& edges,
                              double degrees, Progress& progress);

/// Edges built anew from what the faces themselves say: a face whose open border lies within `reach` (mm) of the natural
/// border of its surface all along gets that border; all other edges are laid on their faces again and their gaps
/// measured.
struct RefreshedEdges {
  Body body;
  int borders = 0;                               ///< faces that got their natural border
  double worst_before = 0.0, worst_after = 0.0;  ///< greatest gap of an edge, mm
};
RefreshedEdges with_refreshed_edges(const Body& body, double reach);

/// The faces with these numbers share no edge with any other any more; all when empty. Names: the first use keeps the
/// edge's.
Body taken_apart(const Body& body, const std::vector<std::size_t>& faces, int step);

/// How an open edge lies beside the nearest open edges of other faces.
struct EdgeGap {
  std::size_t edge = 0;
  double greatest = 0.0, mean = 0.0;       ///< mm
  Vec3 at, to;                             ///< the worst place, and the nearest there
  std::vector<std::array<Vec3, 2>> lines;  ///< along the edge
};
/// Of all open edges that lie within `reach` (mm) of others all along, worst first. Throws Cancelled.
std::vector<EdgeGap> edge_gaps(const Body& body, double reach, Progress& progress);

/// Faces joined where their open edges lie within `tolerance` (mm) of each other, all along: edges that lie on each
/// other as they are, then, by the B-rep kernel's sewing, edges that lie on pieces of others. Throws Error, Cancelled.
struct SewnBody {
  Body body;
  std::size_t open = 0;  ///< edges that no second face uses
  double gap = 0.0;      ///< greatest of all edges, mm
};
SewnBody sewn(const Body& body, double tolerance, int step, Progress& progress);

/// Bodies put beside each other as one; names that occur twice are made anew from the step.
Body put_together(const std::vector<Body>& bodies, int step);

}  // namespace evenclay
