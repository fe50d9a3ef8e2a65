#include "core/demo/finish.h"

#include "core/document/materials.h"
#include "core/operations/print_check.h"

namespace evenclay {

namespace {

Document with_materials(Document d) {
  for (const char* words : {"Shell=soft-touch", "Grille=#3B7480, roughness 0.45, coat 0.15",
                            "Knob=roughness 0.4, coat 0.3", "Knob seat=brushed-metal",
                            "Carry loop=woven", "Case lid=roughness 0.5, coat 0.2",
                            "Foot=translucent", "Foot face 0,0,-39=clay, #3A3632, roughness 0.95",
                            "Badge=brushed-metal", "Grip=soft-touch"})
    d = with_material_words(d, words);
  return d;
}

Document with_views(Document d) {
  const Vec3 middle{-8, 0, 8};
  for (const SavedView& v : {SavedView{"From the front", middle, -60.0, 14.0, 150.0, true},
                             SavedView{"Knob and seat", {0, 0, 42}, -35.0, 38.0, 70.0, true},
                             SavedView{"From above", middle, -90.0, 90.0, 150.0, false},
                             SavedView{"Carry loop", {-40, 0, 20}, 150.0, 12.0, 130.0, true}})
    d = with_view(d, v);
  return d;
}

// How the foot would be printed; hidden, as it lies on a bed of its own.
Document with_print(const Document& d) {
  auto check = std::make_shared<PrintCheckOperation>();
  check->of = find_part(d, std::string_view("Foot"))->id;
  check->bed = BedChoice::Small;
  check->repair = true;
  const Added added = with_part(d, "Foot print", check);
  return with_look(added.document, added.part, {0xA9A29A, false});
}

}  // namespace

Document with_finish(const Document& demo) {
  return with_print(with_views(with_materials(demo)));
}

}  // namespace evenclay
