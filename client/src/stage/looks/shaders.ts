/**
 * One shader for all looks. A particle is a rectangle of two triangles; what it is drawn from lies in textures, and the index of a corner says
 * whose it is. kagero/core/kernels/drawing.py is the same, and says what everything means.
 */
export const DATA_WIDTH = 1024
/** Texels of a look in the table: see `ParticleLayer.table`. */
export const TABLE_WIDTH = 4
export const PLATES_WIDTH = 13

const HEAD = /* glsl */ `
  precision highp int;
  uniform highp sampler2D floats, halves, table, plates;
  uniform int halfTexels;
  vec4 number(int i, int k) {
    int at = i * 2 + k;
    return texelFetch(floats, ivec2(at % ${DATA_WIDTH}, at / ${DATA_WIDTH}), 0);
  }
  vec4 halfNumber(int i, int k) {
    int at = i * halfTexels + k;
    return texelFetch(halves, ivec2(at % ${DATA_WIDTH}, at / ${DATA_WIDTH}), 0);
  }
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
  #ifdef PICTURES
  flat varying vec4 vHere, vTurn; // vTurn: from the particle's right and up to the picture's
  flat varying vec4 vMore; // offset, share of the next page, level
  flat varying vec4 vSettings; // edges, reach of the motion (below nought: none), sheets of what cuts it out and of what is mixed in
  #ifdef PAGES
  flat varying vec4 vNext, vWay, vNextWay;
  #endif
  #endif
  varying vec2 vAt; // across and up, -1 to 1

  vec4 cell(int sheet, int level, int number) {
    if (sheet < 0) return vec4(0.0);
    vec4 head = texelFetch(plates, ivec2(0, sheet), 0);
    vec4 plate = texelFetch(plates, ivec2(1 + min(level, int(head.y) - 1), sheet), 0);
    int across = int(head.x);
    int row = number / across;
    return vec4(plate.x + float(number - row * across) * (plate.z + 2.0) + 1.0, head.z + plate.y + float(row) * (plate.w + 2.0) + 1.0, plate.zw);
  }

  void main() {
    int i = gl_VertexID >> 2;
    vec2 corner = vec2((gl_VertexID & 1) * 2 - 1, (gl_VertexID & 2) - 1);
    vec4 place = number(i, 0), more = number(i, 1);
    vec4 light = halfNumber(i, 0), look4 = halfNumber(i, 1);
    int look = int(more.w + 0.5);
    vec4 a = looked(look, 0), b = looked(look, 1), c = looked(look, 2);
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
    along = max(along, 0.75);
    across = max(across, 0.75);
    vLight = vec4(light.rgb, light.a * fainter);
    vShape = vec4(kind, min(clamp(look4.z, 0.0, 1.0), max(0.0, 1.0 - 1.5 / along)), look4.x, -view.z);
    if (kind < 0.5 && a.x > 0.5) vShape.y = 0.0; // a disc that stands in
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
    vec2 offset = vAt.x * along * vec2(cosine, sine) + vAt.y * across * vec2(-sine, cosine);
    vId = i;
    #ifdef PICTURES
    vTurn = vec4(1.0, 0.0, 0.0, 1.0);
    vMore = vHere = vSettings = vec4(0.0);
    #ifdef PAGES
    vNext = vWay = vNextWay = vec4(0.0);
    #endif
    if (kind > 0.5) {
      vec4 fit = halfTexels > 2 ? halfNumber(i, 2) : vec4(1.0, 1.0, 0.0, 0.0);
      int sheet = int(a.z), motion = int(a.w);
      vec4 head = texelFetch(plates, ivec2(0, sheet), 0);
      vec4 first = texelFetch(plates, ivec2(1, sheet), 0);
      float dense = max(first.z * abs(fit.x) / max(2.0 * along, 1e-6), first.w * abs(fit.y) / max(2.0 * across, 1e-6));
      int level = int(clamp(floor(log2(max(dense, 1.0)) + 1e-4), 0.0, head.y - 1.0));
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
      #ifdef PAGES
      if (share > 0.0) {
        vNext = cell(sheet, level, after);
        vWay = cell(motion, level, number % pages);
        vNextWay = cell(motion, level, after % pages);
      }
      #endif
      float turnedCos = cos(fit.z), turnedSin = sin(fit.z);
      vTurn = 0.5 * vec4(turnedCos * fit.x, turnedSin * fit.x, -turnedSin * fit.y, turnedCos * fit.y);
      vMore = vec4(more.y, more.z, share, float(level));
    }
    #endif
    gl_Position.xy += offset * 2.0 / pixels * gl_Position.w;
    if (-view.z < 0.02 || vLight.a <= 0.0) gl_Position = vec4(0.0, 0.0, 2.0, 1.0);
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
  varying vec2 vAt;

  #ifdef PICTURES
  flat varying vec4 vHere, vTurn, vMore, vSettings;
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
      light = light * (1.0 - cut.w) + mix(vLight.rgb, toward, abs(k)) * cut.w * covers;
    }
    if (cut.x > 0.0) {
      float value = covers;
      if (vSettings.z >= 0.0) value = dot(read(cell(int(vSettings.z), level), uv, edges < 0.5 ? 2.0 : edges).rgb, LUMINANCE);
      float soft = max(cut.y, 0.001);
      float over = value - (cut.x * (1.0 + soft) - soft);
      float left = clamp(over / soft, 0.0, 1.0);
      light *= left;
      if (cut.z > 0.0)
        light += halfNumber(vId, 4).rgb * clamp(1.0 - over / cut.z, 0.0, 1.0) * min(cut.x * 20.0, 1.0) * covers * left;
      covers *= left;
    }
    return vec4(light, covers) * vLight.a;
    #endif
  }

  #endif

  void main() {
    vec4 made;
    #ifdef PICTURES
    #ifdef DISCS
    if (vShape.x < 0.5) {
    #endif
    #endif
    #ifdef DISCS
      float square = dot(vAt, vAt);
      if (square >= 1.0) discard;
      float edge = max(sqrt(square) - vShape.y, 0.0) / (1.0 - vShape.y);
      float k = 1.0 - edge * edge;
      float a = vLight.a * k * k;
      made = vec4(vLight.rgb * a, a);
    #endif
    #ifdef PICTURES
    #ifdef DISCS
    } else {
    #endif
      if (max(abs(vAt.x), abs(vAt.y)) > 1.0) discard;
      made = pictured(vAt);
      if (made.a <= 0.0 && made.r + made.g + made.b <= 0.0) discard;
    #ifdef DISCS
    }
    #endif
    #endif
    if (deep > 0.5) {
      float z = texelFetch(before, ivec2(gl_FragCoord.xy), 0).x * 2.0 - 1.0;
      float away = 2.0 * range.x * range.y / (range.y + range.x - z * (range.y - range.x)) - vShape.w;
      if (away < 0.0) discard;
      float soft = halfTexels > 2 ? halfNumber(vId, 4).w : 0.0;
      if (away < soft) made *= away / soft;
    }
    if (blending < 0.5) gl_FragColor = vec4(made.rgb, made.a * vShape.z);
    else if (blending < 1.5) gl_FragColor = vec4(min(made.rgb, vec3(1.0)), 0.0);
    else gl_FragColor = vec4(vec3(1.0 - made.a) + made.rgb, 1.0);
  }`
