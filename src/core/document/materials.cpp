#include "core/document/materials.h"

#include <fmt/format.h>

#include <array>
#include <charconv>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/trimmed.h"
#include "core/document/face_looks.h"

namespace evenclay {

namespace {

constexpr std::array<ShelfMaterial, 6> kShelf{
    {{"clay", "Clay", {}},
     {"soft-touch", "Soft-touch", {.roughness = 0.55, .coat = 0.06}},
     {"gloss", "Gloss", {.roughness = 0.25, .coat = 0.9}},
     {"brushed-metal", "Brushed metal", {.roughness = 0.38, .metal = 1.0}},
     {"woven", "Woven", {.roughness = 1.0}},
     {"translucent", "Translucent", {.roughness = 0.3, .translucency = 0.7}}}};

double share(std::string_view text) {
  double value = 0.0;
  const char* end = text.data() + text.size();
  const auto [at, error] = std::from_chars(text.data(), end, value);
  if (error != std::errc() || at != end)
    throw Error(say("'{}' is not a number from 0 to 1.", text));
  return value;
}

void change(Material& material, std::uint32_t& colour, std::string_view word) {
  if (word.starts_with('#')) {
    colour = colour_of(word);
    return;
  }
  for (const ShelfMaterial& s : kShelf)
    if (s.name == word) {
      material = s.material;
      return;
    }
  const auto space = word.find(' ');
  const std::string_view name = word.substr(0, space);
  for (const MaterialShare& s : kMaterialShares)
    if (name == s.name && space != std::string_view::npos) {
      material.*s.value = share(trimmed(word.substr(space)));
      return;
    }
  std::string list;
  for (const ShelfMaterial& s : kShelf)
    list += std::string(list.empty() ? "" : ", ") + std::string(s.name);
  throw Error(say(
      "'{}' is no material. There are: {}; or write roughness, metal, coat or translucency and a "
      "number from 0 to 1, or a colour such as #A8512F.",
      word, list));
}

constexpr std::string_view kFace = " face ";

// "… face 1,2,3": the place; nothing where the words end otherwise.
std::optional<Vec3> place_of_face(std::string_view words) {
  const auto at = words.rfind(kFace);
  if (at == std::string_view::npos) return std::nullopt;
  std::string_view rest = words.substr(at + kFace.size());
  Vec3 place;
  for (std::size_t c = 0; c < 3; ++c) {
    const auto comma = std::min(rest.find(','), rest.size());
    const std::string_view number = trimmed(rest.substr(0, comma));
    const char* end = number.data() + number.size();
    const auto [stopped, error] = std::from_chars(number.data(), end, place[c]);
    if (number.empty() || error != std::errc() || stopped != end) return std::nullopt;
    rest.remove_prefix(std::min(comma + 1, rest.size()));
  }
  return trimmed(rest).empty() ? std::optional(place) : std::nullopt;
}

std::vector<PartId> parts_named(const Document& d, std::string_view name) {
  constexpr std::string_view kLayer = "Layer:";
  if (!name.starts_with(kLayer)) return {named_reference(d, name).part};
  const std::string_view layer = name.substr(kLayer.size());
  if (find_layer(d, layer) == nullptr) throw Error(say("There is no layer '{}'.", layer));
  std::vector<PartId> parts;
  for (const Part& p : d.parts)
    if (p.layer == layer) parts.push_back(p.id);
  return parts;
}

}  // namespace

std::span<const ShelfMaterial> shelf_materials() {
  return kShelf;
}

const ShelfMaterial* shelf_material(const Material& material) {
  for (const ShelfMaterial& s : kShelf)
    if (s.material == material) return &s;
  return nullptr;
}

std::string colour_words(std::uint32_t colour) {
  return fmt::format("#{:06X}", colour);
}

std::uint32_t colour_of(std::string_view text) {
  std::uint32_t value = 0;
  const char* end = text.data() + text.size();
  const auto [at, error] =
      std::from_chars(text.data() + std::min<std::size_t>(1, text.size()), end, value, 16);
  if (text.size() != 7 || text[0] != '#' || error != std::errc() || at != end)
    throw Error(say("'{}' is not a colour.", text.substr(0, 20)));
  return value;
}

Document with_material_words(const Document& document, std::string_view words) {
  const auto equal = words.find('=');
  if (equal == std::string_view::npos)
    throw Error(say("'{}' is not of the form Part=material.", words));
  Document d = document;
  const auto changed = [&](Material material, std::uint32_t colour) {
    std::string_view rest = words.substr(equal + 1);
    while (!trimmed(rest).empty()) {
      const auto comma = std::min(rest.find(','), rest.size());
      change(material, colour, trimmed(rest.substr(0, comma)));
      rest.remove_prefix(std::min(comma + 1, rest.size()));
    }
    return FaceLook{{}, colour, material};
  };
  const std::string_view whose = trimmed(words.substr(0, equal));
  if (const auto at = place_of_face(whose)) {
    const PartId id = named_reference(document, trimmed(whose.substr(0, whose.rfind(kFace)))).part;
    const Part& part = *find_part(document, id);
    FaceLook look = changed(part.material, part.look.colour);
    look.pick.near = *at;
    return with_face_look(d, id, look);
  }
  for (const PartId id : parts_named(document, whose)) {
    const Part& part = *find_part(document, id);
    const FaceLook look = changed(part.material, part.look.colour);
    d = with_look(with_material(d, id, look.material), id, {look.colour, part.look.visible});
  }
  return d;
}

}  // namespace evenclay
