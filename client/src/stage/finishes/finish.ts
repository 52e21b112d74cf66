/** What a kind of finish is on the stage: how it makes one picture of another. Its numbers come from the core (kagero/core/finishing). */
import { Vector3 } from 'three'
import type * as three from 'three'

/** What an item is made with, as the core tells it. */
export type Told = Record<string, unknown>

/** How large the picture is, and how many of its pixels are one of the frame at its full size. */
export type Shot = { width: number; height: number; scale: number }

/** Draws a fragment shader over a picture: `picture` is what there is, (light, alpha), linear, premultiplied. */
export type Pass = (
  fragment: string,
  uniforms: Record<string, unknown>,
  from: three.Texture,
  size: readonly [number, number],
) => three.WebGLRenderTarget

/** Return the picture as an item makes it. */
export type StageFinish = (picture: three.Texture, facts: Told, shot: Shot, pass: Pass) => three.WebGLRenderTarget

/** Three numbers of the core as a uniform. */
export const vector = (of: unknown) => new Vector3(...(of as [number, number, number]))

/** Return a finish that computes each pixel from that pixel alone: a shader of `vec4 light(vec4 c)` with its uniforms. */
export function pointwise(
  body: string,
  uniforms: (facts: Told, size: readonly [number, number], scale: number) => Record<string, unknown>,
): StageFinish {
  const fragment = /* glsl */ `
    uniform sampler2D picture;
    ${body}
    void main() { gl_FragColor = light(texelFetch(picture, ivec2(gl_FragCoord.xy), 0)); }`
  return (picture, facts, shot, pass) =>
    pass(fragment, uniforms(facts, [shot.width, shot.height], shot.scale), picture, [shot.width, shot.height])
}
