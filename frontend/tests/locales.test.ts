import { describe, expect, it } from 'vitest'
import { de } from '@/locales/de'
import { en } from '@/locales/en'

function holes(text: string): string[] {
  return [...new Set(text.match(/\{\w+\}/g) ?? [])].sort()
}

function leaves(tree: object, path = ''): [string, string][] {
  return Object.entries(tree).flatMap(([key, value]) =>
    typeof value === 'string'
      ? [[`${path}${key}`, value] as [string, string]]
      : leaves(value as object, `${path}${key}.`),
  )
}

describe('languages', () => {
  const german = new Map(leaves(de))
  it.each(leaves(en))('%s is said in German with the same values', (key, text) => {
    const said = german.get(key)
    expect(said).toBeDefined()
    expect(holes(said ?? '')).toEqual(holes(text))
  })
})

const sources = Object.entries(
  import.meta.glob<string>('../src/**/*.{vue,ts}', {
    query: '?raw',
    import: 'default',
    eager: true,
  }),
).filter(([file]) => !file.includes('/locales/') && !file.includes('schema.d.ts'))
const known = new Set(leaves(en).map(([key]) => key))
/** Anything in quotes that could be a key: in a call, or kept in a constant until it is asked for. */
const QUOTED = /['"]([a-z][\w-]*(?:\.[\w-]+)+)['"]/g
const ASKED = /\b(?:t|te|n)\(\s*'([a-z][\w-]*(?:\.[\w-]+)*)'/g
/** Keys put together, as in t(`names.${check}.title`): what may stand in the hole is anything. */
const MADE = /`([a-z][\w-]*\.[^`\s]*\$\{[^`]*)`/g

function pattern(made: string): RegExp {
  const parts = made.split(/\$\{[^}]*\}/).map((part) => part.replace(/[.*+?^()|[\]\\]/g, '\\$&'))
  return new RegExp(`^${parts.join('.+')}$`)
}

describe('the keys of the locales', () => {
  const asked = sources.flatMap(([file, text]) =>
    [...text.matchAll(ASKED)].map((found) => [found[1]!, file] as const),
  )
  const made = sources.flatMap(([, text]) =>
    [...text.matchAll(MADE)].map((found) => pattern(found[1]!)),
  )
  it('are there for every word that a view asks for', () => {
    const parents = new Set([...known].map((key) => key.slice(0, key.lastIndexOf('.'))))
    const missing = asked.filter(([key]) => !known.has(key) && !parents.has(key))
    expect(missing).toEqual([])
  })
  it('are each asked for somewhere', () => {
    const quoted = new Set(
      sources.flatMap(([, text]) => [...text.matchAll(QUOTED)].map((found) => found[1]!)),
    )
    const idle = [...known].filter((key) => !quoted.has(key) && !made.some((one) => one.test(key)))
    expect(idle).toEqual([])
  })
})
