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
