#include "core/document/face_looks.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/projector.h"

namespace evenclay {

namespace {

Part& part_of(Document& document, PartId id) {
  for (Part& p : document.parts)
    if (p.id == id) return p;
  throw Error(say("The part is no longer there."));
}

}  // namespace

std::vector<int> looks_of_faces(const Body& body, std::span<const FaceLook> looks, double near) {
  std::vector<int> found(body.faces.size(), -1);
  for (std::size_t k = 0; k < looks.size(); ++k) {
    const Pick& pick = looks[k].pick;
    bool any = false;
    for (std::size_t f = 0; f < body.faces.size() && pick.tag != 0; ++f)
      if (body.faces[f].tag == pick.tag || body.faces[f].piece_of == pick.tag) {
        found[f] = static_cast<int>(k);
        any = true;
      }
    if (any || body.faces.empty()) continue;
    const BodyProjection p = BodyProjector(body).closest(pick.near);
    if (pick.tag == 0 || p.distance <= near)
      found[static_cast<std::size_t>(p.face)] = static_cast<int>(k);
  }
  return found;
}

Document with_face_look(const Document& document, PartId part, const FaceLook& look) {
  if (look.pick.kind != PickKind::Face) throw Error(say("Only faces have a look of their own."));
  (void)with_material(document, part, look.material);  // says what is out of range
  Document d = document;
  auto& looks = part_of(d, part).face_looks;
  const auto same = [&](const FaceLook& l) {
    return l.pick.tag == look.pick.tag && (l.pick.tag != 0 || l.pick.near == look.pick.near);
  };
  std::erase_if(looks, same);
  looks.push_back(look);
  return d;
}

Document without_face_look(const Document& document, PartId part, const Body& body,
                           std::size_t face) {
  Document d = document;
  auto& looks = part_of(d, part).face_looks;
  for (int k = looks_of_faces(body, looks).at(face); k >= 0;
       k = looks_of_faces(body, looks).at(face))
    looks.erase(looks.begin() + k);
  return d;
}

}  // namespace evenclay
