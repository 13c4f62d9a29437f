/** The door to the server: a change that bears an old token. */
import { afterEach, expect, it, vi } from 'vitest'
import { api, ask, useToken } from '@/api/client'

interface Sent {
  path: string
  token: string | null
  body: string
}

/** A server whose session has a token and a person; what was sent to it is written down. */
function server(token: string, personId: number | null): Sent[] {
  const sent: Sent[] = []
  const answer = async (asked: Request | string): Promise<Response> => {
    if (typeof asked === 'string') return Response.json({ csrf: token, person_id: personId })
    const given = asked.headers.get('X-Indice-Token')
    sent.push({ path: new URL(asked.url).pathname, token: given, body: await asked.text() })
    if (given === token) return Response.json({})
    return Response.json({ reference: 'token-wrong', message: '', hint: '' }, { status: 403 })
  }
  vi.stubGlobal('fetch', vi.fn(answer))
  return sent
}

const enter = () =>
  ask(api.POST('/api/session', { baseUrl: 'http://here', body: { name: 'Odile', password: 'x' } }))

afterEach(() => vi.unstubAllGlobals())

it('is sent again, whole, with the token of now', async () => {
  const sent = server('new', 7)
  useToken('old', 7)
  await enter()
  expect(sent.map((one) => one.token)).toEqual(['old', 'new'])
  expect(sent[1]?.body).toBe(sent[0]?.body)
  await enter()
  expect(sent.map((one) => one.token)).toEqual(['old', 'new', 'new'])
})

it('is not done in the name of somebody else', async () => {
  const sent = server('new', 8)
  useToken('old', 7)
  await expect(enter()).rejects.toMatchObject({ reference: 'token-wrong' })
  expect(sent).toHaveLength(1)
})

it('is left alone where a page that is no answer of ours refuses it', async () => {
  useToken('old', 7)
  vi.stubGlobal('fetch', async () => new Response('<p>no</p>', { status: 403 }))
  await expect(enter()).rejects.toMatchObject({ status: 403 })
})
