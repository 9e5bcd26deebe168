/** Who may import whom in the front end. A rule that is only written down gets broken. */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { dirname, join, normalize, relative } from 'node:path'
import ts from 'typescript'
import { describe, expect, it } from 'vitest'

const SRC = join(import.meta.dirname, '..', 'src')

const files = (folder: string): string[] =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name)
    return statSync(path).isDirectory()
      ? files(path)
      : /\.tsx?$/.test(name) && !name.endsWith('.d.ts')
        ? [path]
        : []
  })

const ALL = new Set(files(SRC))
const found = (path: string) => [path, `${path}.ts`, `${path}.tsx`].find((p) => ALL.has(p))

/** Modules of ours that each imports when it is loaded: types alone make no circle at run time, but circles to a reader. */
const IMPORTS = new Map(
  [...ALL].map((path) => [
    path,
    ts
      .preProcessFile(readFileSync(path, 'utf8'))
      .importedFiles.map((f) => f.fileName)
      .filter((name) => name.startsWith('.'))
      .map((name) => found(normalize(join(dirname(path), name))))
      .filter((p): p is string => p !== undefined),
  ]),
)

const feature = (path: string) => /^features\/([^/]+)\//.exec(relative(SRC, path))?.[1]

describe('imports', () => {
  it('are found', () => {
    expect(ALL.size).toBeGreaterThan(150)
    expect([...IMPORTS.values()].flat().length).toBeGreaterThan(600)
  })

  it('never go from one feature to another, nor from what is shared to a feature', () => {
    const wrong = [...IMPORTS].flatMap(([path, all]) =>
      all
        .filter(
          (to) =>
            feature(to) !== undefined &&
            feature(to) !== feature(path) &&
            !relative(SRC, path).startsWith('app'),
        )
        .map((to) => `${relative(SRC, path)} -> ${relative(SRC, to)}`),
    )
    expect(wrong).toEqual([])
  })

  it('make no circles', () => {
    const done = new Set<string>()
    const circles: string[] = []
    const walk = (path: string, way: string[]) => {
      if (way.includes(path))
        circles.push([...way.slice(way.indexOf(path)), path].map((p) => relative(SRC, p)).join(' -> '))
      if (way.includes(path) || done.has(path)) return
      for (const to of IMPORTS.get(path) ?? []) walk(to, [...way, path])
      done.add(path)
    }
    for (const path of ALL) walk(path, [])
    expect(circles).toEqual([])
  })
})
