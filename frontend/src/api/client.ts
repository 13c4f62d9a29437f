/** The one door to the server: a client generated from its description, errors with words, the token against forged requests. */
import { i18n } from '@/i18n'
import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from './schema'

type Schemas = components['schemas']
export type Status = Schemas['Status']
export type Today = Schemas['Today']
export type Job = Schemas['JobsOut.JobOut']
export type JobLine = Schemas['LogOut.JobLineOut']
export type EntryCard = Schemas['Shelf.EntryCard']
export type Picture = Schemas['Shelf.Picture']
export type TreeNode = Schemas['TreeOut.TreeNode']
export type FileItem = Schemas['FilesOut.FileOut']
export type Mark = Schemas['FilesOut.Mark']
export type Finding = Schemas['FindingsOut.FindingOut']
export type Check = Schemas['FindingsOut.CheckOut']
export type Plan = Schemas['PlanOut']
export type Convention = Schemas['ConventionsOut.ConventionOut']
export type Arrival = Schemas['IntakesOut.ArrivalOut']
export type Match = Schemas['MatchOut']
export type Candidate = Schemas['MatchOut.CandidateOut']
export type Entry = Schemas['EntryOut']
export type Fact = Schemas['KeptOut.FactOut']
export type Artwork = Schemas['KeptOut.ArtworkOut']
export type Change = Schemas['KeptOut.ChangeOut']
export type GridCell = Schemas['EntryOut.GridCell']
export type Playable = Schemas['EntryOut.Playable']
export type Playback = Schemas['PlaybackOut']
export type Playing = Schemas['PlayingsOut.PlayingOut']
export type Person = Schemas['PeopleOut.PersonOut']
export type Library = Schemas['LibrariesOut.LibraryOut']
export type LibraryKind = Schemas['LibraryIn']['kind']
export type FolderPreview = Schemas['FolderPreview']
export type Twin = Schemas['TwinsOut.TwinOut']
export type Lacking = Schemas['MissingOut.LackingOut']
export type TwinFile = Twin['files'][number]
export type Invitation = Schemas['InvitationsOut.InvitationOut']
export type TraitGroup = Schemas['TraitGroup']
export type Rule = NonNullable<Schemas['PlaylistIn']['rule']>
export type Playlist = Schemas['PlaylistsOut.PlaylistOut']
export type Place = Schemas['PlaylistPage.PlaceOut']
export type ShareLine = Schemas['SharesOut.ShareOut']
export type Made = Schemas['ShareMade']
export type Taught = Schemas['TaughtList.TaughtOut']
export type Look = Schemas['LookOut']
export type Offer = Schemas['KeptOut.OfferOut']
export type Frame = Schemas['KeptOut.FrameOut']
export type Source = Schemas['SourcesOut.SourceOut']
export type Heap = Schemas['MapOut.HeapOut']
export type Party = Schemas['PartyOut']
export type SongRow = Schemas['SongsOut.SongOut']
export type Sheet = Schemas['SheetOut']
export type TextService = Schemas['TextServicesOut.TextServiceOut']
export type OfferedText = Schemas['OfferedTextsOut.OfferedTextOut']
export type TextDraft = Schemas['TextDraftOut']

/** What the server says when something is not as it should be. */
export class Problem extends Error {
  constructor(
    readonly reference: string,
    message: string,
    readonly hint: string,
    readonly status: number,
    /** Where the file can be had that it is about. */
    readonly download = '',
    readonly retryAfter = 0,
  ) {
    super(message)
  }
}

let token = ''
let who: number | null = null

/** Keep the token of the session, which every change must carry, and whose session it is. */
export function useToken(value: string, personId: number | null): void {
  token = value
  who = personId
}

/** The secret of the share by whose link one has come; empty in the household itself. */
let share = ''

/** From now on what is asked is asked below a share's own place; an empty key: of the household. */
export function comeBy(key: string): void {
  share = key
}

/** Whether one has come by the link of a share. */
export const byLink = () => share !== ''

/** The address of something of the server, such as a picture: `at('pictures/…/240')`. */
export function at(path: string): string {
  return share ? `/api/shared/${share}/${path}` : `/api/${path}`
}

/** The address of the page that plays an entry. */
export function playPage(entryId: number | string): string {
  return share ? `/s/${share}/play/${entryId}` : `/play/${entryId}`
}

/** The same request at another address. Its body is read: one that is passed on as a stream needs another protocol. */
async function moved(request: Request, url: URL): Promise<Request> {
  const { method, headers, signal } = request
  const body = method === 'GET' ? undefined : await request.text()
  return new Request(url, { method, headers, signal, body: body || undefined })
}

const carry: Middleware = {
  async onRequest({ request }) {
    const url = new URL(request.url)
    const isOfShare = share && !/^\/api\/(status|shared\/)/.test(url.pathname)
    if (isOfShare) url.pathname = at(url.pathname.replace('/api/', ''))
    const asked = isOfShare ? await moved(request, url) : request
    if (asked.method !== 'GET') asked.headers.set('X-Indice-Token', token)
    asked.headers.set('Accept-Language', i18n.global.locale.value)
    return asked
  },
}

/** Whether a change was refused because the session has another token by now, and is still the same person's. */
async function isRenewed(answer: Response): Promise<boolean> {
  if (answer.status !== 403) return false
  const told = await answer
    .clone()
    .json()
    .catch(() => ({}))
  if ((told as Partial<Record<'reference', string>>).reference !== 'token-wrong') return false
  const now = (await (await fetch('/api/status')).json()) as Status
  if (now.person_id !== who) return false // nothing is done in the name of somebody else
  token = now.csrf
  return true
}

/** Send a request; one that bears an old token is sent once more, since two pages that open at once each get their own. */
async function send(request: Request): Promise<Response> {
  if (request.method === 'GET') return fetch(request)
  const again = request.clone()
  const answer = await fetch(request)
  if (!(await isRenewed(answer))) return answer
  again.headers.set('X-Indice-Token', token)
  return fetch(again)
}

export const api = createClient<paths>({ baseUrl: '/', fetch: send })
api.use(carry)

const { t } = i18n.global

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The data of an answer; throws a {@link Problem} with words for a person. */
export async function ask<T>(answer: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>
  try {
    got = await answer
  } catch {
    throw new Problem('offline', t('error.offline'), t('error.offlineHint'), 0)
  }
  if (got.response.ok && got.data !== undefined) return got.data
  const told = (got.error ?? {}) as Partial<
    Record<'reference' | 'message' | 'hint' | 'download', string>
  >
  throw new Problem(
    told.reference ?? 'failed',
    told.message ?? t('error.status', { n: got.response.status }),
    told.hint ?? '',
    got.response.status,
    told.download ?? '',
    Number(got.response.headers.get('Retry-After') ?? 0),
  )
}
