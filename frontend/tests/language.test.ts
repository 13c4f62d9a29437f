/** The server is told which language is spoken here, and what does not come from it is said in that one, too. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import { api, ask, Problem } from '@/api/client'
import { i18n, speak } from '@/i18n'

const said = (problem: unknown) => [(problem as Problem).message, (problem as Problem).hint]

afterEach(() => {
  vi.unstubAllGlobals()
  i18n.global.locale.value = 'en'
})

describe('the language of answers', () => {
  it.each(['en', 'de'])('is asked for as %s', async (language) => {
    const asked: Request[] = []
    vi.stubGlobal('fetch', (request: Request) => {
      asked.push(request)
      return Promise.resolve(Response.json({}))
    })
    speak(language)
    await ask(api.GET('/api/status'))
    expect(asked.map((one) => one.headers.get('Accept-Language'))).toEqual([language])
  })

  it('is also that of a server that is not there', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('gone')))
    speak('de')
    const problem = await ask(api.GET('/api/status')).catch((one: unknown) => one)
    expect(said(problem)).toEqual(['Indice antwortet nicht.', 'Läuft es noch?'])
  })

  it('is also that of an answer without words', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response('', { status: 502 })))
    speak('de')
    const problem = await ask(api.GET('/api/status')).catch((one: unknown) => one)
    expect(said(problem)).toEqual(['Die Antwort hat den Status 502.', ''])
  })
})
