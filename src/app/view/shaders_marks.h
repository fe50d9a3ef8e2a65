// The shaders of Renderer: lines and points over the surfaces.
#pragma once

namespace evenclay::shaders {

inline constexpr const char* kLineVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
uniform mat4 u_view;
uniform mat4 u_projection;
uniform float u_nearer;
uniform vec4 u_section;
out float v_kept;
void main() {
  v_kept = dot(u_section, vec4(position, 1.0));
  gl_Position = u_projection * (u_view * vec4(position, 1.0));
  gl_Position.z -= u_nearer * gl_Position.w;
})";

// A picture on a plane, by the number of the corner alone.
inline constexpr const char* kOnPlaneVertex = R"(#version 330 core
uniform mat4 u_view;
uniform mat4 u_projection;
uniform vec3 u_corners[4];
out vec2 v_at;
void main() {
  int corner = gl_VertexID == 2 ? 3 : (gl_VertexID == 3 ? 2 : gl_VertexID);
  v_at = vec2(gl_VertexID % 2, gl_VertexID < 2 ? 1.0 : 0.0);
  gl_Position = u_projection * (u_view * vec4(u_corners[corner], 1.0));
})";

inline constexpr const char* kOnPlaneFragment = R"(#version 330 core
in vec2 v_at;
uniform sampler2D u_picture;
uniform float u_opacity;
out vec4 colour;
void main() {
  vec4 c = texture(u_picture, v_at);
  colour = vec4(c.rgb, c.a * u_opacity);
})";

// Without geometry: one pixel wide, for the many lines of the floor.
inline constexpr const char* kThinLineFragment = R"(#version 330 core
in float v_kept;
uniform vec4 u_colour;
out vec4 colour;
void main() { colour = u_colour; })";

inline constexpr const char* kLineGeometry = R"(#version 330 core
layout(lines) in;
layout(triangle_strip, max_vertices = 4) out;
uniform vec2 u_pixels;
uniform float u_width;
in float v_kept[];
out float v_across;
void main() {
  vec4 a = gl_in[0].gl_Position;
  vec4 b = gl_in[1].gl_Position;
  if (a.w <= 0.0 || b.w <= 0.0) return;
  vec2 along = (b.xy / b.w - a.xy / a.w) * u_pixels;
  float l = length(along);
  if (l < 1e-4) return;
  float half_width = 0.5 * u_width + 0.7;
  vec2 side = vec2(-along.y, along.x) / l * half_width * 2.0 / u_pixels;
  for (int k = 0; k < 4; ++k) {
    vec4 p = k < 2 ? a : b;
    float s = (k % 2 == 0) ? 1.0 : -1.0;
    v_across = s * half_width;
    gl_Position = vec4(p.xy + side * s * p.w, p.zw);
    gl_ClipDistance[0] = v_kept[k / 2];
    EmitVertex();
  }
  EndPrimitive();
})";

inline constexpr const char* kLineFragment = R"(#version 330 core
in float v_across;
uniform vec4 u_colour;
uniform float u_width;
out vec4 colour;
void main() {
  float cover = clamp(0.5 * u_width + 0.5 - abs(v_across), 0.0, 1.0);
  if (cover <= 0.0) discard;
  colour = vec4(u_colour.rgb, u_colour.a * cover);
})";

// kind: 0 plain, 1 picked, 2 hovered, 3 partner, 4 held; share: how much of a move it takes; last its size
inline constexpr const char* kPointVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec4 kind_weight;
uniform mat4 u_view;
uniform mat4 u_projection;
uniform float u_scale;
flat out float v_kind;
flat out float v_ring;
flat out float v_size;
flat out float v_share;
void main() {
  v_share = kind_weight.z;
  gl_Position = u_projection * (u_view * vec4(position, 1.0));
  gl_Position.z -= 0.0015 * gl_Position.w;
  v_kind = kind_weight.x;
  // Ring radius grows with the weight; 0 means the weight is 1 and there is no ring.
  v_ring = abs(kind_weight.y - 1.0) < 1e-9 ? 0.0 : 6.5 + 2.2 * log2(max(kind_weight.y, 0.02) + 1.0);
  v_size = (max(v_ring + 2.0, 8.0)) * 2.0;
  gl_PointSize = v_size * u_scale * kind_weight.w;
})";

inline constexpr const char* kPointFragment = R"(#version 330 core
flat in float v_kind;
flat in float v_ring;
flat in float v_size;
flat in float v_share;
uniform vec3 u_ink;
uniform vec3 u_water;
uniform float u_alpha;
out vec4 colour;
void main() {
  float r = length(gl_PointCoord - vec2(0.5)) * v_size;
  float radius = v_kind == 2.0 ? 5.6 : 4.0;
  float rim = 1.4;
  vec3 fill = v_kind == 1.0 ? u_water : u_ink;
  if (v_kind == 2.0) fill = mix(u_ink, u_water, 0.5);
  float inside = clamp(radius + 0.5 - r, 0.0, 1.0);
  float outer = clamp(radius + rim + 0.5 - r, 0.0, 1.0);
  vec4 c = vec4(mix(vec3(1.0), fill, inside), outer);
  if (v_kind == 3.0) {  // hollow: the mirrored partner
    float ring = clamp(radius + 0.5 - r, 0.0, 1.0) * clamp(r - radius + 2.3, 0.0, 1.0);
    c = vec4(mix(vec3(1.0), u_water, ring), outer);
  }
  if (v_share > 0.0 && v_share < 1.0 && v_kind != 1.0 && v_kind != 2.0) {
    // The fill grows with the share, inside a thin rim.
    float fill_radius = (radius - 0.8) * sqrt(v_share);
    float full = clamp(fill_radius + 0.5 - r, 0.0, 1.0);
    float edge = clamp(radius + 0.5 - r, 0.0, 1.0) * clamp(r - radius + 1.6, 0.0, 1.0);
    c = vec4(mix(vec3(1.0), u_water, max(full, edge)), outer);
  }
  if (v_kind == 4.0) {  // held: a bar through the dot
    vec2 d = abs((gl_PointCoord - vec2(0.5)) * v_size);
    float bar = clamp(1.6 - d.y, 0.0, 1.0) * clamp(7.5 - d.x, 0.0, 1.0);
    c = vec4(mix(c.rgb, u_ink, bar), max(c.a, bar));
  }
  if (v_ring > 0.0) {
    float band = clamp(1.2 - abs(r - v_ring), 0.0, 1.0);
    c = mix(c, vec4(u_ink, 1.0), band * (1.0 - outer));
  }
  c.a *= u_alpha;
  if (c.a <= 0.003) discard;
  colour = c;
})";

}  // namespace evenclay::shaders
