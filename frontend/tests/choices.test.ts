import { describe, expect, it } from 'vitest'
import type { Finding } from '@/api/client'
import { followers, useChoices } from '@/composables/useChoices'

const finding: Finding = {
  id: 7,
  check: 'loose-film',
  severity: 'advice',
  library_id: 1,
  path: 'a.mkv',
  message: '',
  fix: 'A (1990)/A (1990).mkv',
  fix_kind: 'safe',
  missing: [],
  moves: [
    { before: 'a.mkv', after: 'A (1990)/A (1990).mkv' },
    { before: 'a.en.srt', after: 'A (1990)/A (1990).en.srt' },
    { before: 'poster.jpg', after: 'A (1990)/poster.jpg' },
  ],
}

describe('what belongs to a file', () => {
  it('follows the name that a person wrote', () => {
    expect(followers(finding.moves, 'Kids/Ada (1990)/Ada (1990).mkv')).toEqual({
      'a.mkv': 'Kids/Ada (1990)/Ada (1990).mkv',
      'a.en.srt': 'Kids/Ada (1990)/Ada (1990).en.srt',
      'poster.jpg': 'Kids/Ada (1990)/poster.jpg',
    })
  })
  it('stays where no name is proposed', () =>
    expect(followers([{ before: 'a', after: null }], 'b')).toEqual({}))
})

describe('choices', () => {
  it('are kept until they are cleared', () => {
    const choices = useChoices()
    choices.set(finding, 'skip')
    expect(choices.of(finding)).toBe('skip')
    choices.write(finding, 'Ada.mkv')
    expect([
      choices.of(finding),
      choices.accepted.value.map((one) => one.id),
      choices.after('a.mkv', 'x'),
    ]).toEqual(['accept', [7], 'Ada.mkv'])
    choices.set(finding, undefined)
    expect(choices.accepted.value).toEqual([])
    choices.clear()
    expect(choices.after('a.mkv', 'x')).toBe('x')
  })
  it('of an earlier check are forgotten, and files are counted where they are known of all', () => {
    const choices = useChoices()
    choices.set(finding, 'accept')
    expect(choices.moving.value).toBe(finding.moves.filter((move) => move.after).length)
    choices.set({ id: 9, library_id: finding.library_id }, 'accept')
    expect(choices.moving.value).toBe(0)
    choices.prune({ [finding.library_id]: 8 })
    expect(choices.accepted.value.map((one) => one.id)).toEqual([9])
    choices.prune({})
    expect(choices.accepted.value).toEqual([])
  })
})
