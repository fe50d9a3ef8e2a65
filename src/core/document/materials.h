// The small shelf of materials, and materials by words.
#pragma once

#include <array>
#include <span>
#include <string>
#include <string_view>

#include "core/document/document.h"

namespace evenclay {

/// What a material has, by its names in files and words.
struct MaterialShare {
  std::string_view name, label;
  double Material::*value;
};
inline constexpr std::array<MaterialShare, 4> kMaterialShares{
    {{"roughness", "roughness", &Material::roughness},
     {"metal", "metal", &Material::metal},
     {"coat", "clear coat", &Material::coat},
     {"translucency", "translucency", &Material::translucency}}};

struct ShelfMaterial {
  std::string_view name;   ///< in words: "brushed-metal"
  std::string_view label;  ///< on screen
  Material material;
};
std::span<const ShelfMaterial> shelf_materials();
/// The one with these values; null when it is one's own.
const ShelfMaterial* shelf_material(const Material& material);

/// "Part=gloss", "Part=roughness 0.3", "Part=#A8512F" or several of them behind each other with commas, as in
/// "Part=gloss, #A8512F, coat 0.5"; "Layer:Name=…" for all parts of a layer; "Part face x,y,z=…" for the face nearest to a
/// place, which begins as the part looks. Throws Error with what there is.
Document with_material_words(const Document& document, std::string_view words);

/// "#RRGGBB", and its value; the latter throws Error.
std::string colour_words(std::uint32_t colour);
std::uint32_t colour_of(std::string_view text);

}  // namespace evenclay
