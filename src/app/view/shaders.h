// The shaders of Renderer.
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

inline constexpr const char* kMeshVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in float value;
uniform mat4 u_view;
uniform mat4 u_projection;
out vec3 v_position;
out vec3 v_normal;
out float v_value;
void main() {
  v_value = value;
  vec4 p = u_view * vec4(position, 1.0);
  v_position = p.xyz;
  v_normal = mat3(u_view) * normal;
  gl_Position = u_projection * p;
})";

// One program for each look, chosen by LOOK: 0 clay, 2 see-through, 3 zebra, 4 coloured by a signed
// value, 5 by a positive one, 6 reflection lines, 7 a veil in one colour. Branches at run time would
// cost every look the sum of all, on drivers that draw in software.
inline constexpr const char* kMeshFragmentHead = "#version 330 core\n#define LOOK ";
inline constexpr const char* kMeshFragment = R"(
in vec3 v_position;
in vec3 v_normal;
in float v_value;
uniform vec3 u_colour;
uniform bool u_perspective;
uniform bool u_has_values;
uniform float u_reach;
uniform float u_ghost;
uniform float u_stripes;
uniform bool u_upright;
uniform bool u_single;
uniform vec3 u_below;
uniform vec3 u_middle;
uniform vec3 u_above;
out vec4 colour;
void main() {
  vec3 n = normalize(v_normal);
  vec3 seen = u_perspective ? normalize(v_position) : vec3(0.0, 0.0, -1.0);
  // By the normal, not by the triangle: at a silhouette triangles turn away while the surface does not.
  bool front = dot(n, seen) < 0.15;
  if (!front) n = -n;
  vec3 sun = vec3(-0.3497, 0.5995, 0.7194);  // unit
  float sky = 0.5 + 0.5 * n.y;
  vec3 base = front ? u_colour : mix(u_colour, vec3(0.42, 0.43, 0.45), 0.55);
#if LOOK == 0 || LOOK == 2 || LOOK == 7
  float key = max(dot(n, sun), 0.0);
  float away = 1.0 - abs(dot(n, seen));
  float rim = away * away * away;
#endif
#if LOOK == 0 || LOOK == 2
  float fill = max(dot(n, vec3(0.9096, 0.1137, 0.3980)), 0.0);
  float shine = max(dot(n, normalize(sun - seen)), 0.0);
  shine *= shine;
  shine *= shine;
  shine *= shine;
  shine *= shine;  // to the 16th
  vec3 lit = base * (0.40 + 0.24 * sky + 0.50 * key + 0.16 * fill) + vec3(0.09) * shine * shine +
             vec3(0.12) * rim * (0.4 + 0.6 * sky);
#endif
#if LOOK == 0
  colour = vec4(lit, 1.0);
#elif LOOK == 2
  colour = vec4(lit, clamp(0.26 + 0.6 * rim, 0.0, 0.9));
#elif LOOK == 7
  colour = vec4(u_colour * (0.75 + 0.25 * key), clamp(u_ghost * (0.55 + 0.9 * rim), 0.0, 1.0));
#elif LOOK == 3 || LOOK == 6
  // Reflection of parallel light tubes of equal height on a far wall.
  vec3 r = reflect(seen, n);
  float s = (u_upright ? r.x : r.y) * u_stripes + 0.25;
  float w = max(fwidth(s), 1e-4);
  float t = abs(fract(s) - 0.5) * 2.0;
#if LOOK == 3
  float stripe = smoothstep(0.5 - w, 0.5 + w, t);
  vec3 lit = mix(vec3(0.13, 0.12, 0.11), vec3(0.96, 0.95, 0.93), stripe) * (0.82 + 0.18 * sky);
#else
  // A dark room with narrow light bands, and a wide one overhead.
  float band = 1.0 - smoothstep(0.16 - w, 0.16 + w, t);
  float over = smoothstep(0.80, 0.92, r.y);
  if (u_single) {  // one broad band at the height of the eye, narrower with more stripes
    float h = abs(u_upright ? r.x : r.y) * u_stripes;
    float hw = max(fwidth(h), 1e-4);
    band = 1.0 - smoothstep(1.2 - hw, 1.2 + hw, h);
    over = 0.0;
  }
  vec3 lit = base * (0.20 + 0.16 * sky) + vec3(0.92, 0.93, 0.95) * max(band * 0.85, over * 0.6);
#endif
  colour = vec4(front ? lit : lit * 0.7, 1.0);
#else
#if LOOK == 4
  float t = clamp(v_value / u_reach, -1.0, 1.0);
  vec3 map = mix(u_middle, t < 0.0 ? u_below : u_above, abs(t));
#else
  vec3 map = mix(u_middle, u_below * 0.62, clamp(v_value / u_reach, 0.0, 1.0));
#endif
  if (!u_has_values) map = mix(base, vec3(0.75), 0.6);
  colour = vec4(map * (0.74 + 0.16 * max(dot(n, sun), 0.0) + 0.10 * sky), 1.0);
#endif
})";

inline constexpr const char* kLineVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
uniform mat4 u_view;
uniform mat4 u_projection;
uniform float u_nearer;
void main() {
  gl_Position = u_projection * (u_view * vec4(position, 1.0));
  gl_Position.z -= u_nearer * gl_Position.w;
})";

inline constexpr const char* kLineGeometry = R"(#version 330 core
layout(lines) in;
layout(triangle_strip, max_vertices = 4) out;
uniform vec2 u_pixels;
uniform float u_width;
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

// kind: 0 plain, 1 picked, 2 hovered, 3 partner, 4 held; share: how much of a move it takes
inline constexpr const char* kPointVertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 kind_weight;
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
  gl_PointSize = v_size * u_scale;
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
