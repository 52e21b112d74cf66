/**
 * One shader for all looks. A particle is a rectangle of two triangles; what it is drawn from lies in textures, and the index of a corner says
 * whose it is. kagero/core/kernels/drawing.py is the same, and says what everything means.
 */
import { FALLEN, LAMPS } from '../lamps'

export const DATA_WIDTH = 1024
/** Texels of a look in the table: see `ParticleLayer.table`. */
export const TABLE_WIDTH = 8
export const PLATES_WIDTH = 13
/** Texels of a triangle of a form: place and u, normal and v of each corner; its colour. */
export const FORM_TEXELS = 7

const HEAD = /* glsl */ `
  precision highp int;
  uniform highp sampler2D floats, halves, table, plates;
  uniform int halfTexels, floatTexels;
  vec4 number(int i, int k) {
    int at = i * floatTexels + k;
    return texelFetch(floats, ivec2(at % ${DATA_WIDTH}, at / ${DATA_WIDTH}), 0);
  }
  vec4 halfNumber(int i, int k) {
    int at = i * halfTexels + k;
    return texelFetch(halves, ivec2(at % ${DATA_WIDTH}, at / ${DATA_WIDTH}), 0);
  }
  #ifdef BODIES
  uniform highp sampler2D corners, shapes, pairs;
  /** Whose body and which of its triangles one of those that are drawn is. */
  ivec2 pair(int n) {
    vec4 two = texelFetch(pairs, ivec2((n / 2) % ${DATA_WIDTH}, n / 2 / ${DATA_WIDTH}), 0);
    return ivec2((n & 1) > 0 ? two.zw : two.xy);
  }
  vec4 formed(int triangle, int k) {
    int at = triangle * ${FORM_TEXELS} + k;
    return texelFetch(corners, ivec2(at % ${DATA_WIDTH}, at / ${DATA_WIDTH}), 0);
  }
  #endif
  vec4 looked(int look, int k) { return texelFetch(table, ivec2(k, look), 0); }
`

export const VERTEX = /* glsl */ `
  ${HEAD}
  uniform float focal; // pixels a metre at one metre's depth
  uniform vec2 pixels; // of the picture
  uniform float dots; // half of how many pixels each is drawn across, whatever its look; 0: as it looks
  uniform float coloured; // whether dots have the particles' colours
  flat varying int vId;
  flat varying vec4 vLight;
  flat varying vec4 vShape; // kind, hardness, cover, depth
  flat varying float vShines; // how much of its light is given: none where that of others is wanted by itself
  flat varying vec3 vFallen; // the light that falls on it
  // as kagero/core/picture/soft_disc.py has it: how much light a disc gives, and how it is drawn so that it gives it however small it is
  float lightOf(float hardness) {
    float soft = 1.0 - hardness;
    return hardness * hardness + 2.0 * soft * (hardness * 8.0 / 15.0 + soft / 6.0);
  }
  float disc(inout float along, inout float across, inout float hardness) {
    float edge = 1.553515, shift = edge * 8.0 / 15.0;
    float light = lightOf(hardness), has = along * across * light;
    if ((1.0 - hardness) * across < edge) {
      across = edge + sqrt(shift * shift + max(across * across * light - edge * edge / 3.0, 0.0)) - shift;
      hardness = 1.0 - edge / across;
      along *= sqrt(light / lightOf(hardness));
    }
    along = max(along, edge);
    return min(has / (along * across * lightOf(hardness)), 1.0);
  }
  ${FALLEN}
  #if defined(PICTURES) || defined(STRANDS)
  flat varying vec4 vHere, vTurn; // vTurn: from the particle's right and up to the picture's
  flat varying vec4 vMore; // offset, share of the next page, level
  flat varying vec4 vSettings; // edges, reach of the motion (below nought: none), sheets of what cuts it out and of what is mixed in
  #ifdef PAGES
  flat varying vec4 vNext, vWay, vNextWay;
  #endif
  #endif
  // of a piece of a line vTurn has both its ends, vMore half of its width at both as vectors, pixels
  #ifdef STRANDS
  flat varying vec4 vFar; // colour and opacity at its far end
  flat varying vec4 vRun; // where the picture lies at both ends, half of the width at both, pixels
  flat varying vec3 vEnds; // whether it is the first and the last of its line; how far away its far end is
  #endif
  varying vec2 vAt; // across and up, -1 to 1; of a body (u, v) from the middle of its picture
  #ifdef BODIES
  uniform int firstTriangle, firstPair; // the number of the first triangle of a body among all that is drawn in order, and which of the pairs it is
  varying vec3 vNormal, vView;
  flat varying vec4 vBody; // whether it is lit, culled, shows its picture; its gleam
  #endif

  #if defined(PICTURES) || defined(BODIES)
  vec3 turned(vec4 q, vec3 v) {
    vec3 t = 2.0 * cross(q.xyz, v);
    return v + q.w * t + cross(q.xyz, t);
  }
  #endif
  #ifdef PICTURES
  vec2 onScreen(vec3 at) {
    vec4 clip = projectionMatrix * (modelViewMatrix * vec4(at, 1.0));
    return (clip.xy / clip.w * 0.5 + 0.5) * pixels;
  }
  /** Where a place lies in a picture that is thrown by a camera, from its middle, in shares of its size. */
  vec2 thrown(int look, vec3 at, float aspect, float tangent) {
    vec4 p = vec4(at, 1.0);
    float away = -dot(looked(look, 6), p), ahead = max(away, 0.001) * tangent * 2.0;
    return away > 0.001 ? vec2(dot(looked(look, 4), p) / (ahead * aspect), dot(looked(look, 5), p) / ahead) : vec2(-9.0);
  }
  #endif

  vec4 cell(int sheet, int level, int number) {
    if (sheet < 0) return vec4(0.0);
    vec4 head = texelFetch(plates, ivec2(0, sheet), 0);
    vec4 plate = texelFetch(plates, ivec2(1 + min(level, int(head.y) - 1), sheet), 0);
    int across = int(head.x);
    int row = number / across;
    return vec4(plate.x + float(number - row * across) * (plate.z + 2.0) + 1.0, head.z + plate.y + float(row) * (plate.w + 2.0) + 1.0, plate.zw);
  }

  #ifdef PICTURES
  /** Say which pages are read, at a level of halves. a, b, c: of the table of looks; head: of the sheet's plates. */
  void paged(vec4 a, vec4 b, vec4 c, int look, vec4 more, int level, int sheet, int motion, vec4 head) {
    float page = clamp(more.x, 0.0, head.w - 0.001);
    int number = int(floor(page));
    float share = page - float(number);
    int pages = int(b.z);
    if (share <= 0.001 || pages < 2) share = 0.0;
    int base = number / pages * pages;
    int after = number - base + 1;
    if (after > int(c.x)) after = c.y > 0.5 ? int(b.w) : int(c.x);
    after += base;
    vHere = cell(sheet, level, number);
    vSettings = vec4(c.z, motion < 0 ? -1.0 : looked(look, 3).x, b.xy);
    vMore.zw = vec2(share, float(level));
    #ifdef PAGES
    vNext = vWay = vNextWay = vec4(0.0);
    if (share > 0.0) {
      vNext = cell(sheet, level, after);
      vWay = cell(motion, level, number % pages);
      vNextWay = cell(motion, level, after % pages);
    }
    #endif
  }
  #endif

  #ifdef STRANDS
  const float LEAST = 0.75, SHARPEST = 0.5;
  vec2 seen(vec4 clip) { return (clip.xy / clip.w * 0.5 + 0.5) * pixels; }
  vec4 clipped(vec3 at) { return projectionMatrix * (modelViewMatrix * vec4(at, 1.0)); }

  /** Half of the width of a band at a place of its line, and which way that is, as kagero/core/picture/strand.py has it. */
  vec3 wide(int i, vec4 place, int joined, float near, float flatBand) {
    if (flatBand > 0.5) {
      vec3 half3 = halfNumber(i, 2).xyz * place.w * 0.5;
      vec2 span = (seen(clipped(place.xyz + half3)) - seen(clipped(place.xyz - half3))) * 0.5;
      float size = length(span);
      return vec3(span / max(size, 1e-9), size);
    }
    vec2 here = seen(clipped(place.xyz)), along = vec2(0.0);
    float alone = 0.0;
    if ((joined & 1) > 0) {
      vec2 on = seen(clipped(number(i + 1, 0).xyz)) - here;
      along += on / max(length(on), 1e-9);
      alone += 1.0;
    }
    if ((joined & 2) > 0) {
      vec2 on = here - seen(clipped(number(i - 1, 0).xyz));
      along += on / max(length(on), 1e-9);
      alone += 1.0;
    }
    float size = length(along);
    float straight = clamp(size / max(alone, 1.0), SHARPEST, 1.0);
    along = size > 1e-6 ? along / size : vec2(1.0, 0.0);
    return vec3(vec2(-along.y, along.x) / straight, place.w * 0.5 * near);
  }

  /** A piece of a line, from place i to the next. */
  void piece(int i, vec4 place, vec4 more, vec4 a, float flatBand, bool lit) {
    int joined = int(more.y + 0.5);
    vec4 far = number(i + 1, 0), farMore = number(i + 1, 1);
    vec4 view0 = modelViewMatrix * vec4(place.xyz, 1.0), view1 = modelViewMatrix * vec4(far.xyz, 1.0);
    vec4 light0 = halfNumber(i, 0), light1 = halfNumber(i + 1, 0);
    if ((joined & 1) == 0 || -view0.z < 0.02 || -view1.z < 0.02 || max(light0.a, light1.a) <= 0.0) {
      gl_Position = vec4(0.0, 0.0, 2.0, 1.0);
      return;
    }
    int farJoined = int(farMore.y + 0.5);
    vec3 w0 = wide(i, place, joined, focal / -view0.z, flatBand), w1 = wide(i + 1, far, farJoined, focal / -view1.z, flatBand);
    light0.a *= place.w > 0.0 ? min(w0.z / LEAST, 1.0) : 0.0;
    light1.a *= far.w > 0.0 ? min(w1.z / LEAST, 1.0) : 0.0;
    w0.z = max(w0.z, LEAST);
    w1.z = max(w1.z, LEAST);
    vec4 clip0 = projectionMatrix * view0, clip1 = projectionMatrix * view1;
    vec2 c0 = seen(clip0), c1 = seen(clip1), n0 = w0.xy * w0.z, n1 = w1.xy * w1.z;
    vLight = light0;
    vFar = light1;
    if (lit) {
      vLight.rgb *= fallen(view0.xyz);
      vFar.rgb *= fallen(view1.xyz);
    }
    vShape = vec4(2.0, a.z < 0.0 ? halfNumber(i, 1).z : 1.0, halfNumber(i, 1).x, -view0.z);
    vTurn = vec4(c0, c1);
    vMore = vec4(n0, n1);
    vRun = vec4(more.x, farMore.x, w0.z, w1.z);
    vEnds = vec3((joined & 2) > 0 ? 0.0 : 1.0, (farJoined & 1) > 0 ? 0.0 : 1.0, -view1.z);
    vHere = vec4(0.0);
    vSettings = vec4(2.0, -1.0, -1.0, -1.0);
    vId = i;
    float longer = length(c1 - c0);
    #ifdef PICTURES
    if (a.z >= 0.0) {
      vec4 head = texelFetch(plates, ivec2(0, int(a.z)), 0), first = texelFetch(plates, ivec2(1, int(a.z)), 0);
      float dense = max(first.z * abs(farMore.x - more.x) / max(longer, 1e-6), first.w / (2.0 * max(w0.z, w1.z)));
      vHere = cell(int(a.z), int(clamp(floor(log2(max(dense, 1.0)) + 1e-4), 0.0, head.y - 1.0)), 0);
      vSettings.x = 2.0;
      vSettings.y = 1.0;
    }
    #endif
    // a pixel more on all sides: which pixels it covers is told by where they are
    bool isFar = (gl_VertexID & 2) > 0;
    vec2 along = longer > 1e-6 ? (c1 - c0) / longer : vec2(0.0), n = isFar ? n1 : n0;
    vec2 at = (isFar ? c1 + along : c0 - along) + n * (1.0 + 1.0 / max(length(n), 1e-6)) * float((gl_VertexID & 1) * 2 - 1);
    vec4 clip = isFar ? clip1 : clip0;
    vAt = vec2(0.0);
    gl_Position = vec4((at / pixels * 2.0 - 1.0) * clip.w, clip.zw);
  }
  #endif

  #ifdef BODIES
  /** A corner of a triangle of a particle's body. */
  void body(int i, int triangle, int corner) {
    vec4 place = number(i, 0), more = number(i, 1), held = number(i, 3);
    vec4 q = normalize(number(i, 2)), light = halfNumber(i, 0), look4 = halfNumber(i, 1);
    int look = int(more.w + 0.5);
    vShines = looked(look, 7).x;
    vFallen = vec3(1.0);
    vec4 a = looked(look, 0), b = looked(look, 1), c = looked(look, 2), how = looked(look, 4), lit = looked(look, 5);
    int form = int(how.x + 0.5) + max(int(held.w), 0) % max(int(lit.z + 0.5), 1);
    vec4 low = texelFetch(shapes, ivec2(0, form), 0), high = texelFetch(shapes, ivec2(1, form), 0);
    float unit = how.y > 0.5 ? place.w : place.w / high.w;
    vec3 size = unit * vec3(look4.zw, halfTexels > 2 ? halfNumber(i, 5).w : 1.0);
    vec3 middle = (low.xyz + high.xyz) * 0.5;
    vec3 at = how.z < 0.5 ? middle : how.z < 1.5 ? vec3(0.0) : vec3(middle.x, low.y, middle.z);
    at += held.xyz * (high.xyz - low.xyz) * 0.5;
    vec4 seen3[3];
    vec2 uv[3];
    vec4 tint = formed(triangle, 6);
    bool pictured = a.z >= 0.0 && tint.w > 0.5;
    for (int k = 0; k < 3; k++) {
      if (!pictured && k != corner) continue;
      vec4 point = formed(triangle, 2 * k);
      vec3 off = turned(q, size * (point.xyz - at));
      seen3[k] = how.w > 0.5 ? modelViewMatrix * vec4(place.xyz, 1.0) + vec4(off, 0.0) : modelViewMatrix * vec4(place.xyz + off, 1.0);
      uv[k] = vec2(point.w, formed(triangle, 2 * k + 1).w);
    }
    vec4 view = seen3[corner];
    vec3 normal = turned(q, formed(triangle, 2 * corner + 1).xyz / max(size, vec3(1e-12)));
    vNormal = normalize(how.w > 0.5 ? normal : mat3(modelViewMatrix) * normal);
    vView = -view.xyz;
    gl_Position = projectionMatrix * view;
    vId = i;
    vLight = vec4(light.rgb * tint.rgb, light.a);
    #ifdef SOLID
    vLight.a = 1.0;
    #endif
    vShape = vec4(3.0, 0.0, look4.x, -view.z);
    vBody = vec4(lit.x, lit.y, pictured ? 1.0 : 0.0, lit.w);
    vAt = uv[corner] - 0.5;
    #if defined(PICTURES) || defined(STRANDS)
    vTurn = vec4(1.0, 0.0, 0.0, 1.0);
    vMore = vHere = vSettings = vec4(0.0);
    #endif
    #ifdef PICTURES
    if (pictured) {
      vec4 fit = halfTexels > 2 ? halfNumber(i, 2) : vec4(1.0, 1.0, 0.0, 0.0);
      vec2 corner2[3];
      for (int k = 0; k < 3; k++) corner2[k] = seen3[k].xy / max(-seen3[k].z, 0.02) * focal;
      vec2 e = corner2[1] - corner2[0], f = corner2[2] - corner2[0], g = uv[1] - uv[0], h = uv[2] - uv[0];
      int sheet = int(a.z), motion = int(a.w);
      vec4 head = texelFetch(plates, ivec2(0, sheet), 0), first = texelFetch(plates, ivec2(1, sheet), 0);
      float texels = abs(g.x * h.y - g.y * h.x) * abs(fit.x * fit.y) * first.z * first.w;
      float dense = sqrt(texels / max(abs(e.x * f.y - e.y * f.x), 1e-6)); // texels a pixel
      int level = int(clamp(floor(log2(max(dense, 1.0)) + 1e-4), 0.0, head.y - 1.0));
      float turnedCos = cos(fit.z), turnedSin = sin(fit.z);
      vTurn = vec4(vec2(turnedCos, turnedSin) * fit.x, vec2(-turnedSin, turnedCos) * fit.y);
      paged(a, b, c, look, more, level, sheet, motion, head);
      vMore.xy = more.yz;
    }
    #endif
  }
  #endif

  void main() {
    #ifdef SOLID
    ivec2 own = pair(gl_VertexID / 3);
    body(own.x, own.y, gl_VertexID % 3);
    return;
    #else
    int i = gl_VertexID >> 2;
    #ifdef BODIES
    if (i >= firstTriangle) {
      ivec2 own = pair(firstPair + i - firstTriangle);
      #ifdef STRANDS
      vFar = vRun = vec4(0.0);
      vEnds = vec3(0.0);
      #endif
      body(own.x, own.y, min(gl_VertexID & 3, 2));
      return;
    }
    vNormal = vView = vec3(0.0);
    vBody = vec4(0.0);
    #endif
    vec2 corner = vec2((gl_VertexID & 1) * 2 - 1, (gl_VertexID & 2) - 1);
    vec4 place = number(i, 0), more = number(i, 1);
    vec4 light = halfNumber(i, 0), look4 = halfNumber(i, 1);
    int look = int(more.w + 0.5);
    vShines = looked(look, 7).x;
    vFallen = vec3(1.0);
    vec4 a = looked(look, 0), b = looked(look, 1), c = looked(look, 2);
    #ifdef BODIES
    if (a.x > 2.5 && dots <= 0.0) { // it is drawn triangle by triangle
      gl_Position = vec4(0.0, 0.0, 2.0, 1.0);
      return;
    }
    #endif
    #ifdef STRANDS
    vFar = vRun = vec4(0.0);
    vEnds = vec3(0.0);
    if (a.x > 1.5 && dots <= 0.0) {
      #ifdef PAGES
      vNext = vWay = vNextWay = vec4(0.0);
      #endif
      piece(i, place, more, a, looked(look, 3).y, looked(look, 7).y > 0.5);
      return;
    }
    #endif
    vec4 view = modelViewMatrix * vec4(place.xyz, 1.0);
    gl_Position = projectionMatrix * view;
    float near = focal / max(-view.z, 0.02);
    float kind = dots > 0.0 ? 0.0 : a.x;
    float along = place.w * 0.5 * near, across = along;
    if (kind < 0.5) across /= max(look4.w, 1.0);
    else {
      float aspect = c.w;
      along *= min(aspect, 1.0) * look4.z;
      across *= min(1.0 / aspect, 1.0) * look4.w;
    }
    float fainter = place.w > 0.0 ? min(along / 0.75, 1.0) * min(across / 0.75, 1.0) : 0.0;
    vec2 metres = vec2(along, across) / near;
    vec2 wide2 = vec2(0.0), tall2 = vec2(0.0);
    bool solid = false;
    #ifdef PICTURES
    vec3 right = vec3(viewMatrix[0][0], viewMatrix[1][0], viewMatrix[2][0]), up = vec3(viewMatrix[0][1], viewMatrix[1][1], viewMatrix[2][1]);
    solid = kind > 0.5 && looked(look, 3).w > 0.5;
    if (solid) {
      vec4 q = normalize(halfNumber(i, 7));
      right = turned(q, vec3(1.0, 0.0, 0.0));
      up = turned(q, vec3(0.0, 1.0, 0.0));
    }
    float cosine3 = cos(look4.y), sine3 = sin(look4.y);
    vec3 wide = metres.x * (cosine3 * right + sine3 * up), tall = metres.y * (cosine3 * up - sine3 * right);
    if (solid) {
      // as kagero/core/picture/picture.py has it: none thinner than can be, and as much fainter
      wide2 = (onScreen(place.xyz + wide) - onScreen(place.xyz - wide)) * 0.5;
      tall2 = (onScreen(place.xyz + tall) - onScreen(place.xyz - tall)) * 0.5;
      float long2 = length(wide2);
      fainter = place.w > 0.0 ? min(long2 / 0.75, 1.0) : 0.0;
      wide2 = long2 < 1e-9 ? vec2(0.75, 0.0) : long2 < 0.75 ? wide2 / long2 * 0.75 : wide2;
      vec2 over = vec2(-wide2.y, wide2.x) / max(long2, 0.75);
      float thick = dot(over, tall2);
      tall2 += over * (thick < 0.0 ? -1.0 : 1.0) * max(0.75 - abs(thick), 0.0);
      fainter *= min(abs(thick) / 0.75, 1.0);
      along = length(wide2);
      across = length(tall2);
    }
    #endif
    float hardness = kind < 0.5 ? (a.x > 0.5 ? 0.0 : clamp(look4.z, 0.0, 1.0)) : 0.0; // none where a disc stands in
    if (kind < 0.5) fainter = place.w > 0.0 ? disc(along, across, hardness) : 0.0;
    else {
      along = max(along, 0.75);
      across = max(across, 0.75);
    }
    vFallen = looked(look, 7).y > 0.5 ? fallen(view.xyz) : vec3(1.0);
    vLight = vec4(light.rgb * vFallen, light.a * fainter);
    vShape = vec4(kind, hardness, look4.x, -view.z);
    float cosine = cos(look4.y), sine = sin(look4.y);
    if (dots > 0.0) {
      along = across = dots;
      vLight = vec4(mix(vec3(0.83, 0.78, 0.69), light.rgb, coloured), 0.95);
      vShape = vec4(0.0, 0.5, 1.0, -view.z);
      cosine = 1.0;
      sine = 0.0;
    }
    // of a picture a pixel more than it is wide: where a corner lies is rounded, and which pixels it covers is told by where they are in it
    float margin = kind < 0.5 ? 0.0 : 1.0;
    vAt = corner * (1.0 + margin / vec2(along, across));
    vec2 offset = solid ? vAt.x * wide2 + vAt.y * tall2 : vAt.x * along * vec2(cosine, sine) + vAt.y * across * vec2(-sine, cosine);
    vId = i;
    #if defined(PICTURES) || defined(STRANDS)
    vTurn = vec4(1.0, 0.0, 0.0, 1.0);
    vMore = vHere = vSettings = vec4(0.0);
    #ifdef PAGES
    vNext = vWay = vNextWay = vec4(0.0);
    #endif
    #endif
    #ifdef PICTURES
    if (kind > 0.5) {
      vec4 fit = halfTexels > 2 ? halfNumber(i, 2) : vec4(1.0, 1.0, 0.0, 0.0);
      int sheet = int(a.z), motion = int(a.w);
      vec4 head = texelFetch(plates, ivec2(0, sheet), 0);
      vec4 first = texelFetch(plates, ivec2(1, sheet), 0);
      // where it lies: (across, up) of the particle, -1 to 1, to the picture's, from its middle
      vec2 middle = vec2(0.0), a1 = vec2(0.5, 0.0), b1 = vec2(0.0, 0.5);
      float tangent = looked(look, 3).z;
      if (tangent > 0.0) {
        middle = thrown(look, place.xyz, c.w, tangent);
        a1 = (thrown(look, place.xyz + wide, c.w, tangent) - thrown(look, place.xyz - wide, c.w, tangent)) * 0.5;
        b1 = (thrown(look, place.xyz + tall, c.w, tangent) - thrown(look, place.xyz - tall, c.w, tangent)) * 0.5;
      }
      float ratio = along / across;
      vec2 spread = abs(fit.xy) * vec2(length(vec2(2.0 * a1.x, 2.0 * b1.x * ratio)), length(vec2(2.0 * b1.y, 2.0 * a1.y / ratio)));
      float dense = max(first.z * spread.x / max(2.0 * along, 1e-6), first.w * spread.y / max(2.0 * across, 1e-6));
      int level = int(clamp(floor(log2(max(dense, 1.0)) + 1e-4), 0.0, head.y - 1.0));
      paged(a, b, c, look, more, level, sheet, motion, head);
      float turnedCos = cos(fit.z), turnedSin = sin(fit.z);
      vec2 u = vec2(turnedCos, turnedSin) * fit.x, v = vec2(-turnedSin, turnedCos) * fit.y;
      vTurn = vec4(dot(u, a1), dot(u, b1), dot(v, a1), dot(v, b1));
      vMore.xy = more.yz + vec2(dot(u, middle), dot(v, middle));
    }
    #endif
    gl_Position.xy += offset * 2.0 / pixels * gl_Position.w;
    if (-view.z < 0.02 || vLight.a <= 0.0) gl_Position = vec4(0.0, 0.0, 2.0, 1.0);
    #endif
  }`

export const FRAGMENT = /* glsl */ `
  ${HEAD}
  uniform sampler2D atlas;
  uniform float blending; // 0 covers, 1 screens, 2 multiplies
  uniform highp sampler2D before; // how deep props are
  uniform float deep; // whether there are any whose depth is read here
  uniform vec2 range; // the camera's near and far, metres
  flat varying int vId;
  flat varying vec4 vLight, vShape;
  flat varying float vShines;
  flat varying vec3 vFallen;
  varying vec2 vAt;
  #ifdef BODIES
  varying vec3 vNormal, vView;
  flat varying vec4 vBody;
  #endif
  #if defined(PICTURES) || defined(STRANDS)
  flat varying vec4 vHere, vTurn, vMore, vSettings;
  #endif
  #ifdef STRANDS
  flat varying vec4 vFar, vRun;
  flat varying vec3 vEnds;
  #endif

  float profile(float far, float full) {
    float edge = max(far - full, 0.0) / (1.0 - full);
    float k = 1.0 - edge * edge;
    return k * k;
  }

  #ifdef PICTURES
  #ifdef PAGES
  flat varying vec4 vNext, vWay, vNextWay;
  #endif
  vec4 texel(vec4 cell, vec2 uv) {
    return texture(atlas, (cell.xy + vec2(uv.x, 1.0 - uv.y) * cell.zw) / vec2(textureSize(atlas, 0)));
  }
  vec4 read(vec4 cell, vec2 uv, float edges) {
    if (edges < 0.5) { if (any(lessThan(uv, vec2(0.0))) || any(greaterThan(uv, vec2(1.0)))) return vec4(0.0); }
    else if (edges < 1.5) uv = clamp(uv, 0.0, 1.0);
    else if (edges < 2.5) uv = fract(uv);
    else uv = abs(uv - 2.0 * floor(uv * 0.5 + 0.5));
    return texel(cell, uv);
  }
  vec4 cell(int sheet, int level) {
    vec4 head = texelFetch(plates, ivec2(0, sheet), 0);
    vec4 plate = texelFetch(plates, ivec2(1 + min(level, int(head.y) - 1), sheet), 0);
    return vec4(plate.x + 1.0, head.z + plate.y + 1.0, plate.zw);
  }
  const vec3 LUMINANCE = vec3(0.2126, 0.7152, 0.0722);

  vec4 pictured(vec2 at) {
    float edges = vSettings.x;
    vec2 uv = vec2(0.5) + vMore.xy + vec2(dot(at, vTurn.xy), dot(at, vTurn.zw));
    #ifdef PAGES
    vec2 back = vec2(0.0), on = vec2(0.0);
    #ifdef MOTION
    if (vSettings.y >= 0.0) {
      back = (read(vWay, uv, 1.0).xy - 0.5) * 2.0 * vMore.z * vSettings.y;
      on = (read(vNextWay, uv, 1.0).xy - 0.5) * 2.0 * (1.0 - vMore.z) * vSettings.y;
    }
    #endif
    vec4 p = read(vHere, uv + vec2(-back.x, back.y), edges);
    if (vMore.z > 0.0) p = mix(p, read(vNext, uv + vec2(on.x, -on.y), edges), vMore.z);
    #else
    vec4 p = read(vHere, uv, edges);
    #endif
    #ifndef EXTRAS
    return vec4(p.rgb * vLight.rgb, p.a) * vLight.a;
    #else
    vec4 fit = halfNumber(vId, 2), cut = halfNumber(vId, 3);
    int level = int(vMore.w);
    if (vSettings.w >= 0.0 && fit.w > 0.0) p = mix(p, read(cell(int(vSettings.w), level), uv, edges), fit.w);
    float bright = dot(p.rgb, LUMINANCE) / max(p.a, 0.001); // what covers less than can be told still shines
    vec3 light = p.rgb * vLight.rgb;
    float covers = p.a;
    if (cut.w > 0.0) {
      float k = clamp(bright * 2.0, 0.0, 2.0) - 1.0;
      vec3 toward = k < 0.0 ? halfNumber(vId, 5).rgb : halfNumber(vId, 6).rgb;
      light = light * (1.0 - cut.w) + mix(vLight.rgb, toward * vFallen, abs(k)) * cut.w * covers;
    }
    if (cut.x > 0.0) {
      float value = covers;
      if (vSettings.z >= 0.0) value = dot(read(cell(int(vSettings.z), level), uv, edges < 0.5 ? 2.0 : edges).rgb, LUMINANCE);
      float soft = max(cut.y, 0.001);
      float over = value - (cut.x * (1.0 + soft) - soft);
      float left = clamp(over / soft, 0.0, 1.0);
      light *= left;
      if (cut.z > 0.0) {
        float rim = clamp(1.0 - over / cut.z, 0.0, 1.0) * min(cut.x * 20.0, 1.0);
        light = light * (1.0 - rim) + halfNumber(vId, 4).rgb * vFallen * rim * covers * left;
      }
      covers *= left;
    }
    return vec4(light, covers) * vLight.a;
    #endif
  }

  #endif

  float turned(vec2 a, vec2 b) { return a.x * b.y - a.y * b.x; }

  #ifdef STRANDS
  /** What a piece of a line covers here; away: how far away it is here, metres. kagero/core/kernels/drawing.py has the same, and says why. */
  vec4 band(out float away) {
    vec2 span = vTurn.zw - vTurn.xy, q = gl_FragCoord.xy - vTurn.xy, n0 = vMore.xy, n1 = vMore.zw, turn = n1 - n0;
    float firstSide = turned(span, n0) >= 0.0 ? 1.0 : -1.0, lastSide = turned(span, n1) >= 0.0 ? 1.0 : -1.0;
    float far = length(span);
    if (turned(q, n0) * firstSide < 0.0 || turned(q - span, n1) * lastSide >= 0.0 || far == 0.0) discard;
    float a = -turned(span, turn), b = turned(q, turn) - turned(span, n0), c = turned(q, n0);
    float root = sqrt(max(b * b - 4.0 * a * c, 0.0));
    float s = clamp(b * firstSide <= 0.0 ? 2.0 * c / (firstSide * root - b) : (-b - firstSide * root) / (2.0 * a), 0.0, 1.0);
    vec2 n = mix(n0, n1, s);
    float side = dot(q - s * span, n) / dot(n, n);
    if (abs(side) >= 1.0) discard;
    away = mix(vShape.w, vEnds.z, s);
    vec4 light = mix(vLight, vFar, s);
    float covers = light.a * profile(abs(side), min(clamp(vShape.y, 0.0, 1.0), max(0.0, 1.0 - 1.5 / mix(vRun.z, vRun.w, s))));
    if (vEnds.x > 0.5) covers *= min(1.0, s * far * 0.6667);
    if (vEnds.y > 0.5) covers *= min(1.0, (1.0 - s) * far * 0.6667);
    #ifdef PICTURES
    if (vSettings.y > 0.0) {
      vec4 p = read(vHere, vec2(mix(vRun.x, vRun.y, s), (side + 1.0) * 0.5), 2.0);
      return vec4(p.rgb * light.rgb, p.a) * covers;
    }
    #endif
    return vec4(light.rgb * covers, covers);
  }
  #endif

  #ifdef BODIES
  ${LAMPS}
  /** What a body shows here, in the light that props stand in (kagero/core/kernels/bodies.py). */
  vec4 surface() {
    if (vBody.y > 0.5 && !gl_FrontFacing) discard;
    vec4 painted = vec4(vLight.rgb, 1.0) * vLight.a;
    #ifdef PICTURES
    if (vBody.z > 0.5) painted = pictured(vAt);
    #endif
    if (vBody.x > 0.5) {
      float rim, gleam;
      vec3 light = shaded(normalize(vNormal), vView, rim, gleam);
      painted.rgb = painted.rgb * light + (vec3(0.09, 0.12, 0.14) * rim + vec3(gleam * vBody.w)) * painted.a;
    }
    return painted;
  }
  #endif

  void main() {
    vec4 painted = vec4(0.0);
    float distant = vShape.w;
    #ifdef BODIES
    if (vShape.x > 2.5) {
      painted = surface();
      distant = vView.z;
      if (painted.a <= 0.0 && painted.r + painted.g + painted.b <= 0.0) discard;
    }
    #endif
    #ifdef SOLID
    gl_FragColor = vec4(painted.rgb * vShines, 1.0);
    return;
    #endif
    #ifdef STRANDS
    if (vShape.x > 1.5 && vShape.x < 2.5) painted = band(distant);
    #endif
    #ifdef DISCS
    if (vShape.x < 0.5) {
      float square = dot(vAt, vAt);
      if (square >= 1.0) discard;
      float a = vLight.a * profile(sqrt(square), vShape.y);
      painted = vec4(vLight.rgb * a, a);
    }
    #endif
    #ifdef PICTURES
    if (vShape.x > 0.5 && vShape.x < 1.5) {
      if (max(abs(vAt.x), abs(vAt.y)) > 1.0) discard;
      painted = pictured(vAt);
      if (painted.a <= 0.0 && painted.r + painted.g + painted.b <= 0.0) discard;
    }
    #endif
    if (deep > 0.5) {
      float z = texelFetch(before, ivec2(gl_FragCoord.xy), 0).x * 2.0 - 1.0;
      float away = 2.0 * range.x * range.y / (range.y + range.x - z * (range.y - range.x)) - distant;
      if (away < 0.0) discard;
      float soft = halfTexels > 2 ? halfNumber(vId, 4).w : 0.0;
      if (away < soft) painted *= away / soft;
    }
    if (blending < 1.5) painted.rgb *= vShines;
    if (blending < 0.5) gl_FragColor = vec4(painted.rgb, painted.a * vShape.z);
    else if (blending < 1.5) gl_FragColor = vec4(min(painted.rgb, vec3(1.0)), 0.0);
    else gl_FragColor = vec4(vec3(1.0 - painted.a) + painted.rgb, 1.0);
  }`
