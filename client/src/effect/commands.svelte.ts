/** Everything that can be done from anywhere on the Desk, each with its key: one list for the keyboard, the search and the help. */

import { keep, kept } from '../controls/kept'

export type Command = {
  id: string
  label: string
  group: string
  /** The key it has unless somebody chose another: `Ctrl+Shift+Z`, `W`, `Space`, or none. */
  key: string
  act: () => void
  /** Of a key that is held: what ends with it. */
  release?: () => void
  /** Where the key means something else: a selector of what has the focus. */
  yields?: string
}

const KEPT = 'kagero.keys'
const NAMED: Record<string, string> = { ' ': 'Space', ArrowLeft: '←', ArrowRight: '→', ArrowUp: '↑', ArrowDown: '↓' }

/** Return what a pressed key is called; empty for a modifier alone. */
export function keyName(event: KeyboardEvent): string {
  const { key } = event
  if (['Shift', 'Control', 'Alt', 'Meta', 'Dead', 'Unidentified'].includes(key)) return ''
  const letter = /^\p{L}$/u.test(key)
  const name = NAMED[key] ?? (letter ? key.toUpperCase() : key)
  // a sign says by itself whether Shift was held; a letter or a named key does not
  const shift = event.shiftKey && (letter || name.length > 1)
  const held = [(event.ctrlKey || event.metaKey) && 'Ctrl', event.altKey && 'Alt', shift && 'Shift', name]
  return held.filter(Boolean).join('+')
}
/** A key as it is read: `Ctrl Shift Z`. */
export const keyWords = (key: string) => key.split(/\+(?=.)/).join(' ')

let changed = $state.raw(kept<Record<string, string>>(KEPT, {}))
function change(next: Record<string, string>): void {
  changed = next
  keep(KEPT, next)
}
/** The keys that commands have at first, for the hints of buttons and menus that do the same. */
const usual = new Map<string, string>()
/** The key of a command as it is read, whoever changed it: `Ctrl K`; empty where it has none. */
export const keyHint = (id: string): string => keyWords(changed[id] ?? usual.get(id) ?? '')

export class Commands {
  constructor(readonly list: Command[]) {
    for (const { id, key } of list) usual.set(id, key)
  }

  keyOf = (command: Command): string => changed[command.id] ?? command.key
  /** Do what a pressed key means; return whether it means anything here. */
  press(event: KeyboardEvent): boolean {
    const key = keyName(event)
    const target = event.target as HTMLElement | null
    const found = key ? this.list.find((each) => this.keyOf(each) === key) : undefined
    if (!found || (found.yields && target?.closest?.(found.yields))) return false
    if (!found.release) found.act()
    else if (this.held !== found) {
      this.release()
      this.held = found
      found.act()
    }
    return true
  }
  private held: Command | null = null
  /** A key is let go, or the window is left: what was held ends. */
  release(): void {
    this.held?.release?.()
    this.held = null
  }
  /** Give a command another key, which whatever had it loses. Returns that one's label, if there was one. */
  change(command: Command, key: string): string | null {
    const other = this.list.find((each) => each.id !== command.id && this.keyOf(each) === key)
    change({ ...changed, ...(other && key ? { [other.id]: '' } : {}), [command.id]: key })
    return key ? (other?.label ?? null) : null
  }
  isChanged = (command: Command): boolean => command.id in changed
  /** Everything as it was at first. */
  reset(): void {
    change({})
  }
  readonly anyChanged = $derived(Object.keys(changed).length > 0)
}
