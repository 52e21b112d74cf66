/** Where on the screen something was pressed: what opens stands beside it. Pixels. */
export type Anchor = { left: number; top: number; right: number; bottom: number }
