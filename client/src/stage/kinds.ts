/** Return the default exports of a folder's modules by the modules' names; those without one are left out. */
export function byName<T>(modules: Record<string, { default?: T }>): Record<string, T> {
  const found: Record<string, T> = {}
  for (const [path, module] of Object.entries(modules))
    if (module.default) found[path.replace(/^.*\/|\.ts$/g, '')] = module.default
  return found
}
