#pragma once

#include "core/document/operation.h"
#include "core/stand_ins/printer.h"

namespace evenclay {

enum class BedChoice { Small, Middle, Large, Flat, Tall, Own };
enum class LayChoice { Stands, Best, Turned };
enum class PrintShows { Form, Layers, OneLayer };

/// K2: how a part would be printed: laid on a bed, its layers, what hangs over, what is too thin, time and material. A part
/// of its own, of triangles; the part it looks at is left as it is. See core/stand_ins/printer.h.
class PrintCheckOperation : public OperationOf<PrintCheckOperation> {
 public:
  PartRef of;
  BedChoice bed = BedChoice::Middle;
  Vec3 own_bed{200, 200, 200};
  LayChoice lay = LayChoice::Best;
  Vec3 turn{};
  double layer = 0.2, line = 0.45, overhang = 45.0, infill = 15.0;
  int walls = 2;
  PrintShows shows = PrintShows::Form;
  int shown = 50;  ///< percent of the layers
  bool repair = false;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "print_check",
        .label = "Print check",
        .help =
            "How a part would be printed: its lay on a bed, overhangs, thin walls, layers, time "
            "and material.",
        .stage = Stage::Deliver,
        .group = "Print",
        .icon = "printer",
        .takes = kBody | kMesh | kForm,
        .hint = "Choose a bed and a lay on the right; the notes there say what holds. Enter keeps.",
        .new_part = true,
        .part_name = "Print check"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  PrintSettings settings() const;
};

}  // namespace evenclay
