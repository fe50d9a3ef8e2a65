// The shader of Renderer that gives surfaces their looks.
#pragma once

namespace evenclay::shaders {

// One program for each look, chosen by LOOK: 0 clay, 2 see-through, 3 zebra, 4 and 10 to 12 coloured by a
// signed value, 5 and 7 by a positive one, 16 by a positive one too, 13 by one that is dark where it is small, 6 reflection lines, 8 a
// veil in one colour, 9 clay with one of many lights, 14 lines of equal brightness, 15 a room that is mirrored,
// 17 materials in that room, 18 the same with one of many lights.
// Values above 1e20 are none, and hatched.
// Branches at run time would cost every look the sum of all, on drivers that draw in software.
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
uniform vec3 u_key;  // towards the large soft light
uniform vec3 u_up;   // the world's up
uniform vec3 u_side;  // the world's x
uniform float u_key_share;  // of the key and of the sky that this picture of many holds
uniform float u_sky_share;
uniform vec4 u_material;  // roughness, metal, clear coat, translucency
out vec4 colour;
#if LOOK == 15 || LOOK == 17 || LOOK == 18
// A studio: light walls, a dark floor, a window of four panes, a long lamp overhead and a lit screen. Dull surfaces see it
// blurred, 0..1.
vec3 room(vec3 r, float blur) {
  float up = dot(r, u_up);
  float ahead = dot(r, u_side);
  float aside = dot(r, cross(u_up, u_side));
  float b = 0.6 * blur;
  vec3 walls = mix(vec3(0.30, 0.27, 0.24), vec3(0.62, 0.61, 0.59), smoothstep(-0.25 - b, 0.35 + b, up));
  walls = mix(walls, vec3(0.74, 0.75, 0.77), smoothstep(0.45 - b, 0.95, up));
  walls *= 1.0 - 0.35 * (1.0 - blur) * (1.0 - smoothstep(0.0, 0.06 + b, abs(up + 0.08)));
  vec2 pane = vec2(atan(aside, ahead), asin(clamp(up, -1.0, 1.0)));
  vec2 q = abs((pane - vec2(-1.9, 0.42)) / vec2(0.52, 0.30));
  float glass = 1.0 - smoothstep(1.0 - 0.9 * blur, 1.0 + 1.2 * blur, max(q.x, q.y));
  glass *= mix(step(0.06, q.x) * step(0.08, q.y), 0.8, min(1.0, 6.0 * blur));
  vec2 k = abs((pane - vec2(0.9, 0.25)) / vec2(0.30, 0.42));
  float screen = 1.0 - smoothstep(0.92 - 0.8 * blur, 1.0 + 1.2 * blur, max(k.x, k.y));
  float lamp = (1.0 - smoothstep(0.07 - 0.06 * blur, 0.09 + 0.5 * blur, abs(aside))) *
               smoothstep(0.3 - b - 0.001, 0.3 + b, up) *
               (1.0 - smoothstep(0.7 - 0.001 - b, 0.7 + b, abs(ahead)));
  float dim = 1.0 - 0.55 * blur;  // lights spread over a wider angle
  return walls + dim * (vec3(0.55, 0.58, 0.62) * glass + vec3(0.42, 0.39, 0.34) * screen + vec3(0.5) * lamp);
}
#endif
void main() {
  vec3 n = normalize(v_normal);
  vec3 seen = u_perspective ? normalize(v_position) : vec3(0.0, 0.0, -1.0);
  // By the normal, not by the triangle: at a silhouette triangles turn away while the surface does not.
  bool front = dot(n, seen) < 0.15;
  if (!front) n = -n;
  float sky = 0.5 + 0.5 * dot(n, u_up);
  vec3 base = front ? u_colour : mix(u_colour, vec3(0.46, 0.45, 0.44), 0.45);
#if LOOK == 0 || LOOK == 2 || LOOK == 8 || LOOK == 9 || LOOK == 17 || LOOK == 18
  float key = max(dot(n, u_key), 0.0);
  float away = 1.0 - abs(dot(n, seen));
  float rim = away * away * away;
#endif
#if LOOK == 0 || LOOK == 2 || LOOK == 9 || LOOK == 17 || LOOK == 18
  float fill = max(dot(n, vec3(0.83, 0.05, 0.556)), 0.0);
  float bounce = 0.5 - 0.5 * dot(n, u_up);  // from the floor
  vec3 halfway = normalize(u_key - seen);
  float shine = max(dot(n, halfway), 0.0);
  shine *= shine;
  shine *= shine;
  shine *= shine;
  shine *= shine;  // to the 16th
  float lit_by_key = key;
  float lit_by_sky = sky;
#if LOOK == 9 || LOOK == 18
  float reached = front ? reach(v_position, n) : 0.75;
  lit_by_key = u_key_share * max(dot(n, u_light), 0.0) * reached;
  lit_by_sky = u_sky_share * 2.0 * max(dot(n, u_light), 0.0) * reached;
  shine *= min(1.0, u_key_share) * reached * u_key_share;
#endif
  vec3 warm = vec3(1.03, 1.0, 0.96);
  vec3 cool = vec3(0.95, 0.99, 1.05);
  vec3 light = 0.16 + 0.33 * lit_by_sky * cool + 0.62 * lit_by_key * warm + 0.15 * fill * cool +
               0.30 * bounce * warm;
  vec3 lit = base * light + vec3(0.10) * shine + vec3(0.10) * rim * (0.35 + 0.65 * sky);
#endif
#if LOOK == 0 || LOOK == 9
  colour = vec4(lit, 1.0);
#elif LOOK == 17 || LOOK == 18
  // Microfacets after B. Walter and others 2007 for the large light, Fresnel after C. Schlick 1994, the room for the rest.
  float rough = clamp(u_material.x, 0.04, 1.0);
  float facing = max(-dot(n, seen), 0.0);
  float edge = 1.0 - facing;
  edge *= edge * edge * edge * edge;
  vec3 straight = mix(vec3(0.04), base, u_material.y);
  vec3 mirrored = straight + (max(vec3(1.0 - rough), straight) - straight) * edge;
  vec3 away_to = reflect(seen, n);
  float a2 = rough * rough * rough * rough;
#if LOOK == 18
  float nh = max(dot(n, normalize(u_light - seen)), 0.0);
  float strength = u_key_share * reached;
#else
  float nh = max(dot(n, halfway), 0.0);
  float strength = 1.0;
#endif
  float lobe = nh * nh * (a2 - 1.0) + 1.0;
  float glint = min(a2 / (12.57 * lobe * lobe), 3.0) * key * strength;
  vec3 through = base * u_material.w * (0.30 * (0.5 - 0.5 * dot(n, u_key)) + 0.25 * edge + 0.12);
  vec3 made = base * light * (1.0 - u_material.y) * (1.0 - mirrored) + through +
              mirrored * (room(away_to, rough) + glint);
  float coat = u_material.z * (0.05 + 0.95 * edge);
  float polish = nh * nh * (0.0016 - 1.0) + 1.0;
  float gloss = min(0.0016 / (12.57 * polish * polish), 2.0) * key * strength;
  made = mix(made, room(away_to, 0.02), coat) + u_material.z * 0.3 * gloss;
  colour = vec4(made, 1.0 - 0.6 * u_material.w * (1.0 - edge));
#elif LOOK == 2
  colour = vec4(lit, clamp(0.26 + 0.6 * rim, 0.0, 0.9));
#elif LOOK == 8
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
#elif LOOK == 14
  // Each line joins places that one far light reaches at the same angle.
  float s = degrees(acos(clamp(dot(n, u_key), -1.0, 1.0))) * u_stripes / 45.0;
  float w = max(fwidth(s), 1e-4);
  float t = abs(fract(s) - 0.5) * 2.0;
  float line = smoothstep(0.45 - w, 0.45 + w, t);
  colour = vec4(mix(vec3(0.16, 0.15, 0.14), base * 1.08, line) * (0.78 + 0.22 * sky), 1.0);
#elif LOOK == 15
  vec3 lit = room(reflect(seen, n), 0.0);
  colour = vec4(lit * mix(base, vec3(1.0), 0.72) * (front ? 1.0 : 0.7), 1.0);
#else
#if LOOK == 4 || LOOK == 10 || LOOK == 11 || LOOK == 12
  float t = clamp(v_value / u_reach, -1.0, 1.0);
  vec3 map = mix(u_middle, t < 0.0 ? u_below : u_above, abs(t));
#elif LOOK == 13
  vec3 map = mix(u_below * 0.62, u_middle, clamp(v_value / u_reach, 0.0, 1.0));
#else
  vec3 map = mix(u_middle, u_below * 0.62, clamp(v_value / u_reach, 0.0, 1.0));
#endif
  if (v_value > 1e20) {
    float line = fract((gl_FragCoord.x + gl_FragCoord.y) / 9.0);
    map = mix(vec3(0.78, 0.76, 0.74), vec3(0.62, 0.60, 0.58), line < 0.22 ? 1.0 : 0.0);
  }
  if (!u_has_values) map = mix(base, vec3(0.75), 0.6);
  colour = vec4(map * (0.74 + 0.16 * max(dot(n, u_key), 0.0) + 0.10 * sky), 1.0);
#endif
})";

}  // namespace evenclay::shaders
