/** Geometry of props, fetched once for each kind and size: the stage and the list draw from it. */
import { api } from '../wire/api'
import type { Geometry } from '../wire/arrays'
import type { Prop } from '../wire/types'
import { geometryKey } from './props'

type Known = { geometry: Geometry | null; problem: string }
const MOST = 96

export class Geometries {
  /** Grows when something arrived. */
  arrived = $state(0)
  private known = new Map<string, Known>()
  private last = new Map<string, Geometry>()

  /** Return a prop's geometry; while it is on its way, what the prop was before, if anything. fine: small triangles, to carry values. */
  of(prop: Prop, fine = false): Geometry | null {
    void this.arrived
    const whose = `${prop.uid} ${fine}`
    const found = this.get(prop, fine)?.geometry
    if (found) this.last.set(whose, found)
    return found ?? this.last.get(whose) ?? null
  }

  problem(prop: Prop): string {
    void this.arrived
    const known = this.get(prop, false)
    return known?.problem || known?.geometry?.words || ''
  }

  /** Ask again for what could not be had: a file may be there by now. */
  retry(): void {
    for (const [key, known] of this.known) if (known.problem || known.geometry?.words) this.known.delete(key)
    this.arrived++
  }

  private get(prop: Prop, fine: boolean): Known | undefined {
    const key = `${fine} ${geometryKey(prop)}`
    const known = this.known.get(key)
    if (known) return known
    const result: Known = { geometry: null, problem: '' }
    this.known.set(key, result)
    if (this.known.size > MOST) this.known.delete(this.known.keys().next().value!)
    api
      .geometry(prop, fine)
      .then(
        (geometry) => (result.geometry = geometry),
        (problem) => (result.problem = (problem as Error).message),
      )
      .finally(() => this.arrived++)
    return result
  }
}
export const geometries = new Geometries()
