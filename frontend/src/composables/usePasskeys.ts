/** Keys of devices: made in them, and signed in by, where the browser and the address allow it. */
import { api, ask, Problem } from '@/api/client'

type Made = PublicKeyCredential & { toJSON: () => Record<string, unknown> }
/** TypeScript's own description of this is younger than browsers are. */
interface Parses {
  parseCreationOptionsFromJSON?: (told: unknown) => PublicKeyCredentialCreationOptions
  parseRequestOptionsFromJSON?: (told: unknown) => PublicKeyCredentialRequestOptions
}
const parses = () => window.PublicKeyCredential as unknown as Parses | undefined

/** A key is bound to a name, and browsers have them on safe connections only. */
export function canHavePasskeys(): boolean {
  return (
    window.isSecureContext &&
    !!parses()?.parseCreationOptionsFromJSON &&
    !/^(\[|[\d.]+$)/.test(location.hostname)
  )
}

/** What the browser says when nobody answered, or the device has no such key. */
function turned(reason: unknown): never {
  if (reason instanceof Problem) throw reason
  throw new Problem('passkey-none', '', '', 0)
}

export async function makePasskey(name: string): Promise<void> {
  const { options } = await ask(api.POST('/api/passkeys/options'))
  const publicKey = parses()?.parseCreationOptionsFromJSON?.(options)
  const made = (await navigator.credentials.create({ publicKey }).catch(turned)) as Made
  await ask(api.POST('/api/passkeys', { body: { name, credential: made.toJSON() } }))
}

export async function signInByPasskey(): Promise<void> {
  const { options } = await ask(api.POST('/api/session/passkey/options'))
  const publicKey = parses()?.parseRequestOptionsFromJSON?.(options)
  const signed = (await navigator.credentials.get({ publicKey }).catch(turned)) as Made
  await ask(api.POST('/api/session/passkey', { body: { credential: signed.toJSON() } }))
}
