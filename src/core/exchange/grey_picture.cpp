#include "core/exchange/grey_picture.h"

#include <algorithm>
#include <memory>

#include "core/base/error.h"
#include "core/base/say.h"

#define STB_IMAGE_IMPLEMENTATION
#define STB_IMAGE_STATIC
#define STBI_NO_STDIO
#define STBI_ONLY_PNG
#define STBI_ONLY_JPEG
#define STBI_ONLY_BMP
#define STBI_MAX_DIMENSIONS 8192
#include <stb/stb_image.h>

namespace evenclay {

Grid<double> grey_samples(const std::string& bytes, int rows, int columns) {
  int width = 0;
  int height = 0;
  int channels = 0;
  const std::unique_ptr<unsigned char, void (*)(void*)> pixels(
      stbi_load_from_memory(reinterpret_cast<const unsigned char*>(bytes.data()),
                            static_cast<int>(std::min<std::size_t>(bytes.size(), 1U << 30)), &width,
                            &height, &channels, 2),
      stbi_image_free);
  if (!pixels)
    throw Error(
        say("The picture cannot be read for its brightness. Use a PNG, JPEG or BMP file of at most "
            "8192 × 8192 pixels."));
  const auto grey = [&](int x, int y) {
    const unsigned char* p =
        pixels.get() + 2 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                            static_cast<std::size_t>(x));
    const double share = p[1] / 255.0;
    return share * p[0] / 255.0 + (1.0 - share);
  };
  Grid<double> samples(rows, columns);
  for (int i = 0; i < rows; ++i)
    for (int j = 0; j < columns; ++j) {
      const auto part = [](int k, int count, int pixels_there) {
        return static_cast<int>(static_cast<long>(k) * pixels_there / count);
      };
      const int x0 = part(i, rows, width);
      const int x1 = std::max(x0 + 1, part(i + 1, rows, width));
      // Columns run upwards, pixels downwards.
      const int y0 = part(columns - 1 - j, columns, height);
      const int y1 = std::max(y0 + 1, part(columns - j, columns, height));
      double sum = 0.0;
      for (int x = x0; x < x1; ++x)
        for (int y = y0; y < y1; ++y) sum += grey(std::min(x, width - 1), std::min(y, height - 1));
      samples(i, j) = sum / ((x1 - x0) * (y1 - y0));
    }
  return samples;
}

}  // namespace evenclay
