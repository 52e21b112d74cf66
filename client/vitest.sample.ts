/** Before all tests: asks the core once what a Desk is handed when it opens a small effect, so that no copy of it can be out of date. */
import { execFileSync } from 'node:child_process'
import { resolve } from 'node:path'
import type { TestProject } from 'vitest/node'

export default function setup(project: TestProject): void {
  const root = resolve(import.meta.dirname, '..')
  const text = execFileSync(resolve(root, '.venv/bin/python'), ['-m', 'tests.making.desk'], {
    cwd: root,
    maxBuffer: 1 << 26,
    encoding: 'utf8',
  })
  project.provide('desk', JSON.parse(text))
}
