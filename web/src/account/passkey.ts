import { api, ask, type Schemas } from '../api/client'

/** Whether this browser can ask a device for passkeys as JSON (W3C Web Authentication, level 3). */
export const canAsk = typeof PublicKeyCredential !== 'undefined' && 'parseRequestOptionsFromJSON' in PublicKeyCredential

const asJSON = (made: Credential | null) => (made as PublicKeyCredential).toJSON() as unknown

/** Has the device make a passkey, and the kitchen keep its public half. Throws what the browser says otherwise. */
export async function makePasskey(name: string): Promise<void> {
  const { options } = await ask(api.POST('/api/v1/account/passkeys/outline', {}))
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(options as PublicKeyCredentialCreationOptionsJSON)
  const credential = asJSON(await navigator.credentials.create({ publicKey }))
  await ask(api.POST('/api/v1/account/passkeys', { body: { name, credential } }))
}

/** Signs in by a passkey that the device has. */
export async function signInByPasskey(): Promise<Schemas['AccountSession']> {
  const { options } = await ask(api.POST('/api/v1/session/passkey/outline', {}))
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(options as PublicKeyCredentialRequestOptionsJSON)
  const credential = asJSON(await navigator.credentials.get({ publicKey }))
  return ask(api.POST('/api/v1/session/passkey', { body: { credential } }))
}
