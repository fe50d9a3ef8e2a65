#include "core/operations/catalogue.h"

#include <vector>

#include "core/operations/blend_parts.h"
#include "core/operations/border_surface.h"
#include "core/operations/bring_in.h"
#include "core/operations/cage.h"
#include "core/operations/circle.h"
#include "core/operations/combine_parts.h"
#include "core/operations/control_curve.h"
#include "core/operations/convert.h"
#include "core/operations/copies.h"
#include "core/operations/copy_of_part.h"
#include "core/operations/corner_edit.h"
#include "core/operations/curve_steps.h"
#include "core/operations/curves_from_parts.h"
#include "core/operations/directions.h"
#include "core/operations/drawn_curves.h"
#include "core/operations/even_out.h"
#include "core/operations/extend.h"
#include "core/operations/fit_steps.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/form_faces.h"
#include "core/operations/form_loops.h"
#include "core/operations/form_sources.h"
#include "core/operations/form_whole.h"
#include "core/operations/frozen.h"
#include "core/operations/grid_line.h"
#include "core/operations/guide_curves.h"
#include "core/operations/joining.h"
#include "core/operations/lifted_points.h"
#include "core/operations/lighten.h"
#include "core/operations/outlines.h"
#include "core/operations/plane.h"
#include "core/operations/print_check.h"
#include "core/operations/rebuild.h"
#include "core/operations/rebuild_curve.h"
#include "core/operations/reference_picture.h"
#include "core/operations/scan_steps.h"
#include "core/operations/set_degree.h"
#include "core/operations/shaped_points.h"
#include "core/operations/skinned.h"
#include "core/operations/solid_steps.h"
#include "core/operations/solids.h"
#include "core/operations/sphere.h"
#include "core/operations/swept.h"
#include "core/operations/tiles.h"
#include "core/operations/trim_away.h"

namespace evenclay {

std::span<const OperationPtr> catalogue() {
  static const std::vector<OperationPtr> all{
      std::make_shared<SphereOperation>(),
      std::make_shared<PlaneOperation>(),
      std::make_shared<BoxOperation>(),
      std::make_shared<CylinderOperation>(),
      std::make_shared<ConeOperation>(),
      std::make_shared<TorusOperation>(),
      std::make_shared<ProfileOperation>(),
      std::make_shared<ControlCurveOperation>(),
      std::make_shared<CurveThroughOperation>(),
      std::make_shared<ArcOperation>(),
      std::make_shared<CircleOperation>(),
      std::make_shared<EllipseOperation>(),
      std::make_shared<RectangleOperation>(),
      std::make_shared<HelixOperation>(),
      std::make_shared<ExtrudeOperation>(),
      std::make_shared<RevolveOperation>(),
      std::make_shared<RuledOperation>(),
      std::make_shared<LoftOperation>(),
      std::make_shared<SweepOperation>(),
      std::make_shared<RevolveAlongRailOperation>(),
      std::make_shared<BorderSurfaceOperation>(),
      std::make_shared<FillOperation>(),
      std::make_shared<InBetweensOperation>(),
      std::make_shared<OffsetSurfaceOperation>(),
      std::make_shared<JoinCurvesOperation>(),
      std::make_shared<ProjectCurveOperation>(),
      std::make_shared<SectionCurveOperation>(),
      std::make_shared<IsoCurveOperation>(),
      std::make_shared<EdgeCurveOperation>(),
      std::make_shared<BlendCurveOperation>(),
      std::make_shared<OffsetCurveOperation>(),
      std::make_shared<RebuildCurveOperation>(),
      std::make_shared<CurveDegreeOperation>(),
      std::make_shared<LightenCurveOperation>(),
      std::make_shared<InsertPointOperation>(),
      std::make_shared<RemovePointOperation>(),
      std::make_shared<ExtendCurveOperation>(),
      std::make_shared<CurveDirectionOperation>(),
      std::make_shared<SplitCurveOperation>(),
      std::make_shared<CopyOfPartOperation>(),
      std::make_shared<PracticeScannerOperation>(),
      std::make_shared<ClipScanOperation>(),
      std::make_shared<FitSurfaceOperation>(),
      std::make_shared<FitAgainOperation>(),
      std::make_shared<RebuildOperation>(),
      std::make_shared<LightenOperation>(),
      std::make_shared<SetDegreeOperation>(),
      std::make_shared<EvenOutOperation>(),
      std::make_shared<AddGridLineOperation>(),
      std::make_shared<RemoveGridLineOperation>(),
      std::make_shared<ConvertOperation>(),
      std::make_shared<ExtendOperation>(),
      std::make_shared<DirectionsOperation>(),
      std::make_shared<OpenCloseOperation>(),
      std::make_shared<SplitSurfaceOperation>(),
      std::make_shared<ShapedPointsOperation>(),
      std::make_shared<LiftedPointsOperation>(),
      std::make_shared<FairOperation>(),
      std::make_shared<GuideCurvesOperation>(),
      std::make_shared<CageOperation>(),
      std::make_shared<InCageOperation>(),
      std::make_shared<ShelfTileOperation>(),
      std::make_shared<DiagonalTileOperation>(),
      std::make_shared<PairEdgesOperation>(),
      std::make_shared<FlowPatternOperation>(),
      std::make_shared<TrimAwayOperation>(),
      std::make_shared<SplitOperation>(),
      std::make_shared<HoleOperation>(),
      std::make_shared<RemoveFacesOperation>(),
      std::make_shared<OffsetFacesOperation>(),
      std::make_shared<FacesAsPartOperation>(),
      std::make_shared<JoinPartsOperation>(),
      std::make_shared<TakeApartOperation>(),
      std::make_shared<FillOpeningsOperation>(),
      std::make_shared<BlendOperation>(),
      std::make_shared<MatchOperation>(),
      std::make_shared<ThickenOperation>(),
      std::make_shared<ShellOperation>(),
      std::make_shared<CloseSolidOperation>(),
      std::make_shared<UniteOperation>(),
      std::make_shared<SubtractOperation>(),
      std::make_shared<IntersectOperation>(),
      std::make_shared<RoundEdgesOperation>(),
      std::make_shared<ChamferEdgesOperation>(),
      std::make_shared<SplitEdgeOperation>(),
      std::make_shared<MergeEdgesOperation>(),
      std::make_shared<RefreshEdgesOperation>(),
      std::make_shared<CornerEditOperation>(),
      std::make_shared<FormBoxOperation>(),
      std::make_shared<FormPlaneOperation>(),
      std::make_shared<FormCylinderOperation>(),
      std::make_shared<FormBallOperation>(),
      std::make_shared<FormTorusOperation>(),
      std::make_shared<FormFaceOperation>(),
      std::make_shared<FormFromCurveOperation>(),
      std::make_shared<FormOfPartOperation>(),
      std::make_shared<ExtrudeFacesOperation>(),
      std::make_shared<PullEdgesOperation>(),
      std::make_shared<InsertLoopOperation>(),
      std::make_shared<SlideLoopOperation>(),
      std::make_shared<SubdivideOperation>(),
      std::make_shared<CreaseOperation>(),
      std::make_shared<BevelOperation>(),
      std::make_shared<BridgeOperation>(),
      std::make_shared<StitchOperation>(),
      std::make_shared<MeltOperation>(),
      std::make_shared<DeleteFacesOperation>(),
      std::make_shared<FillHoleOperation>(),
      std::make_shared<AddFaceOperation>(),
      std::make_shared<ThickenFormOperation>(),
      std::make_shared<FlattenFacesOperation>(),
      std::make_shared<TakeInFormOperation>(),
      std::make_shared<FormToSurfacesOperation>(),
      std::make_shared<PullInCrossingsOperation>(),
      std::make_shared<MirrorFormOperation>(),
      std::make_shared<MirrorOperation>(),
      std::make_shared<ArrayOperation>(),
      std::make_shared<BringInOperation>(),
      std::make_shared<FrozenOperation>(),
      std::make_shared<PrintCheckOperation>(),
      std::make_shared<ReferencePictureOperation>(),
  };
  return all;
}

std::shared_ptr<Operation> make_operation(std::string_view kind) {
  for (const OperationPtr& o : catalogue())
    if (o->kind() == kind) return o->clone();
  return nullptr;
}

}  // namespace evenclay
