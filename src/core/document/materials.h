// The small shelf of materials, and materials by words.
#pragma once

#include <span>
#include <string_view>

#include "core/document/document.h"

namespace evenclay {

struct ShelfMaterial {
  std::string_view name;   ///< in words: "brushed-metal"
  std::string_view label;  ///< on screen
  Material material;
};
std::span<const ShelfMaterial> shelf_materials();
/// The one with these values; null when it is one's own.
const ShelfMaterial* shelf_material(const Material& material);

/// "Part=gloss", "Part=roughness 0.3", "Part=#A8512F" or several of them behind each other with commas, as in
/// "Part=gloss, #A8512F, coat 0.5"; "Layer:Name=…" for all parts of a layer. Throws Error with what there is.
Document with_material_words(const Document& document, std::string_view words);

/// The value of "#RRGGBB". Throws Error.
std::uint32_t colour_of(std::string_view text);

}  // namespace evenclay
