// Meshes of other programs (brought_file.h).
#include "core/exchange/mesh_file.h"

#include <fmt/format.h>

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <algorithm>
#include <array>
#include <assimp/Importer.hpp>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/mesh/place_table.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostTriangles = 50'000'000;

// Triangles with their corners as numbers of places; those with corners that are no numbers are left out.
struct Welder {
  PlaceTable table;
  std::vector<std::array<std::uint32_t, 3>> triangles;
  std::size_t no_numbers = 0;

  void add(const aiMesh& m, Progress& progress) {
    for (unsigned f = 0; f < m.mNumFaces; ++f) {
      if (f % 4096 == 0) progress.check();
      const aiFace& face = m.mFaces[f];
      if (face.mNumIndices != 3) continue;  // points and lines
      std::array<std::uint32_t, 3> t{};
      bool sound = true;
      for (unsigned k = 0; k < 3; ++k) {
        const aiVector3D& p = m.mVertices[face.mIndices[k]];
        const Vec3 place{static_cast<double>(p.x), static_cast<double>(p.y),
                         static_cast<double>(p.z)};
        sound = sound && is_finite(place);
        if (sound) t[k] = table.number(place);
      }
      no_numbers += sound ? 0U : 1U;
      if (sound && t[0] != t[1] && t[1] != t[2] && t[2] != t[0]) triangles.push_back(t);
    }
  }
};

}  // namespace

BroughtFile read_mesh(const std::string& name, const std::string& bytes, const std::string& ending,
                      Progress& progress) {
  Assimp::Importer importer;
  const unsigned leave_out = aiComponent_NORMALS | aiComponent_TANGENTS_AND_BITANGENTS |
                             aiComponent_COLORS | aiComponent_TEXCOORDS | aiComponent_MATERIALS |
                             aiComponent_TEXTURES | aiComponent_LIGHTS | aiComponent_CAMERAS;
  importer.SetPropertyInteger(AI_CONFIG_PP_RVC_FLAGS, static_cast<int>(leave_out));
  const aiScene* scene = importer.ReadFileFromMemory(
      bytes.data(), bytes.size(),
      aiProcess_RemoveComponent | aiProcess_Triangulate | aiProcess_PreTransformVertices,
      ending.c_str());
  progress.report(0.6);
  progress.check();
  if (scene == nullptr || scene->mNumMeshes == 0)
    throw Error(
        say("{} holds no triangles, or is damaged. Ask for it again, or save it anew where "
            "it was made.",
            name));
  std::size_t triangles = 0;
  for (unsigned k = 0; k < scene->mNumMeshes; ++k) triangles += scene->mMeshes[k]->mNumFaces;
  if (triangles > kMostTriangles)
    throw Error(
        say("{} holds {} triangles, more than can be used. Thin it first.", name, triangles));
  Welder welder;
  for (unsigned k = 0; k < scene->mNumMeshes; ++k) welder.add(*scene->mMeshes[k], progress);
  TriangleMesh mesh{welder.table.take(), {}, std::move(welder.triangles)};
  if (mesh.triangles.empty())
    throw Error(say("{} holds points and no triangles. Save it with its faces.", name));
  for (const Vec3& p : mesh.points)
    if (!(std::abs(p.x) < 1e7 && std::abs(p.y) < 1e7 && std::abs(p.z) < 1e7))
      throw Error(say("{} has a vertex farther away than ten kilometres. Scale it first.", name));
  const std::string label = name.substr(0, name.find_last_of('.'));
  BroughtFile file;
  file.note = say("{} triangles; such files say no unit, so lengths are taken as they are written.",
                  mesh.triangles.size());
  if (welder.no_numbers > 0)
    file.note += say(" {} with corners that are no numbers were left out.", welder.no_numbers);
  file.parts.push_back({label.empty() ? std::string("Mesh") : label, std::nullopt,
                        std::make_shared<const Shape>(std::move(mesh))});
  return file;
}

}  // namespace evenclay
