import { beforeEach, expect, it, vi } from 'vitest'

const store = new Map<string, string>()
vi.stubGlobal('localStorage', {
  getItem: (name: string) => store.get(name) ?? null,
  setItem: (name: string, text: string) => store.set(name, text),
})
const { Commands, keyHint, keyName } = await import('./commands.svelte')

const pressed = (key: string, more: object = {}) =>
  ({ key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, target: null, ...more }) as KeyboardEvent
let done: string[] = []
const make = () =>
  new Commands([
    { id: 'play', label: 'Play', group: 'time', key: 'Space', act: () => done.push('play') },
    { id: 'undo', label: 'Undo', group: 'edit', key: 'Ctrl+Z', act: () => done.push('undo') },
    { id: 'none', label: 'Nothing yet', group: 'edit', key: '', act: () => done.push('none') },
  ])
beforeEach(() => {
  done = []
  make().reset()
})

it('names keys by what they are, whatever the platform calls Ctrl', () => {
  expect(keyName(pressed('z', { ctrlKey: true, shiftKey: true }))).toBe('Ctrl+Shift+Z')
  expect(keyName(pressed('z', { metaKey: true }))).toBe('Ctrl+Z')
  expect(keyName(pressed('?', { shiftKey: true }))).toBe('?')
  expect(keyName(pressed('Shift', { shiftKey: true }))).toBe('')
})

it('does what a key means, and nothing for one that means nothing', () => {
  expect(make().press(pressed(' '))).toBe(true)
  expect(make().press(pressed('q'))).toBe(false)
  expect(make().press(pressed('Control', { ctrlKey: true }))).toBe(false)
  expect(done).toEqual(['play'])
})

it('gives a key to one command only, keeps it, and gives all back', () => {
  const commands = make()
  expect(commands.change(commands.list[1], 'Space')).toBe('Play')
  make().press(pressed(' '))
  make().press(pressed('z', { ctrlKey: true }))
  expect(done).toEqual(['undo'])
  expect(JSON.parse(store.get('kagero.keys')!)).toEqual({ play: '', undo: 'Space' })
  expect([keyHint('undo'), keyHint('play')]).toEqual(['Space', '']) // as buttons say it
  make().reset()
  expect(keyHint('undo')).toBe('Ctrl Z')
  make().press(pressed(' '))
  expect(done).toEqual(['undo', 'play'])
})

it('leaves a key to whoever has the focus where it means something else there', () => {
  const commands = new Commands([
    { id: 'one', label: 'One', group: '', key: '1', act: () => done.push('one'), yields: '[data-key]' },
  ])
  expect(commands.press(pressed('1', { target: { closest: () => ({}) } }))).toBe(false)
  expect(commands.press(pressed('1', { target: { closest: () => null } }))).toBe(true)
})
