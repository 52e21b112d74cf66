/** What a kind of finish is on the stage: how it makes one picture of another. Its numbers come from the core (kagero/core/finishing). */
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
export type StageFinish = (picture: three.Texture, told: Told, shot: Shot, pass: Pass) => three.WebGLRenderTarget
