// The shaders of Renderer: ground, surfaces, light.
#pragma once

namespace evenclay::shaders {

inline constexpr const char* kBackgroundVertex = R"(#version 330 core
out float v_height;
void main() {
  vec2 p = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
  v_height = 0.5 + 0.5 * p.y;
  gl_Position = vec4(p, 0.0, 1.0);
})";

inline constexpr const char* kBackgroundFragment = R"(#version 330 core
in float v_height;
uniform vec3 u_top;
uniform vec3 u_bottom;
out vec4 colour;
void main() { colour = vec4(mix(u_bottom, u_top, clamp(v_height, 0.0, 1.0)), 1.0); })";

// Draws a texture over the whole viewport, times a weight.
inline constexpr const char* kPictureFragment = R"(#version 330 core
uniform sampler2D u_picture;
uniform vec2 u_pixels;
uniform vec2 u_corner;
uniform float u_weight;
out vec4 colour;
void main() { colour = texture(u_picture, (gl_FragCoord.xy - u_corner) / u_pixels) * u_weight; })";

inline constexpr const char* kMeshVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in float value;
uniform mat4 u_view;
uniform mat4 u_projection;
uniform vec4 u_section;  // what lies behind this plane is cut away
uniform float u_behind;  // mm that the depth alone is moved away
out vec3 v_position;
out vec3 v_normal;
out float v_value;
void main() {
  v_value = value;
  vec4 p = u_view * vec4(position, 1.0);
  v_position = p.xyz;
  v_normal = mat3(u_view) * normal;
  gl_Position = u_projection * p;
  vec4 q = u_projection * (p - vec4(0.0, 0.0, u_behind, 0.0));
  gl_Position.z = q.z / q.w * gl_Position.w;
  gl_ClipDistance[0] = dot(u_section, vec4(position, 1.0));
})";

// Only depth, for shadows and for what is drawn over a finished picture.
inline constexpr const char* kDepthFragment = R"(#version 330 core
void main() {})";

// The plane of a section, drawn where a closed mesh is cut open.
inline constexpr const char* kCapVertex = R"(#version 330 core
uniform mat4 u_view;
uniform mat4 u_projection;
uniform vec3 u_centre;
uniform vec3 u_along;
uniform vec3 u_across;
void main() {
  vec2 place = vec2(gl_VertexID & 1, gl_VertexID >> 1) * 2.0 - 1.0;
  vec3 p = u_centre + u_along * place.x + u_across * place.y;
  gl_Position = u_projection * (u_view * vec4(p, 1.0));
})";

inline constexpr const char* kCapFragment = R"(#version 330 core
uniform vec3 u_colour;
uniform vec3 u_stripe;
out vec4 colour;
void main() {
  float line = fract((gl_FragCoord.x + gl_FragCoord.y) / 11.0);
  colour = vec4(mix(u_colour, u_stripe, line < 0.16 ? 0.5 : 0.0), 1.0);
})";

// Part of a picture in many: how much of one light reaches a place. u_light is towards it, in the eye's
// frame; u_shadow_from brings places from there to the light's map.
inline constexpr const char* kShadow = R"(
uniform sampler2DShadow u_shadow;
uniform mat4 u_shadow_from;
uniform vec3 u_light;
uniform float u_lift;
float reach(vec3 p, vec3 n) {
  vec4 q = u_shadow_from * vec4(p + n * u_lift, 1.0);
  vec3 at = 0.5 * q.xyz / q.w + 0.5;
  if (at.x < 0.0 || at.y < 0.0 || at.x > 1.0 || at.y > 1.0 || at.z > 1.0) return 1.0;
  vec2 texel = 1.0 / vec2(textureSize(u_shadow, 0));
  float sum = 0.0;
  for (int k = 0; k < 4; ++k)
    sum += texture(u_shadow, vec3(at.xy + texel * vec2(k & 1, k >> 1) - 0.5 * texel, at.z));
  return 0.25 * sum;
}
)";

inline constexpr const char* kFloorVertex = R"(#version 330 core
uniform mat4 u_view;
uniform mat4 u_projection;
uniform vec3 u_centre;
uniform float u_radius;
out vec3 v_position;
out vec2 v_place;
void main() {
  v_place = vec2(gl_VertexID & 1, gl_VertexID >> 1) * 2.0 - 1.0;
  vec4 p = u_view * vec4(u_centre + vec3(v_place * u_radius, 0.0), 1.0);
  v_position = p.xyz;
  gl_Position = u_projection * p;
})";

// The shadow that one light leaves on the floor. Each pixel looks a little beside its place, by chance:
// the mean of many pictures then has no edges of single lights.
inline constexpr const char* kFloorFragment = R"(
in vec3 v_position;
in vec2 v_place;
uniform float u_dark;
uniform float u_blur;
uniform float u_seed;
out vec4 colour;
float chance(vec2 p) { return fract(sin(dot(p, vec2(12.9898, 78.233))) * 43758.5453); }
float reach_about(vec3 p) {
  vec4 q = u_shadow_from * vec4(p, 1.0);
  vec3 at = 0.5 * q.xyz / q.w + 0.5;
  if (at.z > 1.0) return 1.0;
  float sum = 0.0;
  for (int k = 0; k < 3; ++k) {
    float a = 6.2832 * chance(gl_FragCoord.xy + vec2(u_seed, 17.0 * float(k)));
    float r = u_blur * sqrt(chance(gl_FragCoord.yx + vec2(31.0 * float(k), u_seed)));
    vec2 to = clamp(at.xy + r * vec2(cos(a), sin(a)), vec2(0.001), vec2(0.999));
    sum += texture(u_shadow, vec3(to, at.z));
  }
  return sum / 3.0;
}
void main() {
  float fade = 1.0 - smoothstep(0.25, 0.9, length(v_place));
  float dark = 1.0 - reach_about(v_position);
  colour = vec4(0.10, 0.08, 0.07, dark * u_dark * fade);
})";

}  // namespace evenclay::shaders
