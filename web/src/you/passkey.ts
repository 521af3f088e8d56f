/** What a browser knows of passkeys, by JSON as servers speak it. */
type ByJSON = typeof PublicKeyCredential & {
  parseCreationOptionsFromJSON(o: unknown): PublicKeyCredentialCreationOptions
  parseRequestOptionsFromJSON(o: unknown): PublicKeyCredentialRequestOptions
}

/** Whether this page can have passkeys: it has a name, is secure, and the browser knows them. */
export const canPasskey =
  window.isSecureContext &&
  'PublicKeyCredential' in window &&
  'parseCreationOptionsFromJSON' in PublicKeyCredential &&
  !/^[\d.]+$|^\[/.test(location.hostname)

/** Has the device make a passkey, or sign with one; null where the person thought better of it. */
async function by(get: () => Promise<Credential | null>): Promise<string | null> {
  try {
    const c = await get()
    return c && JSON.stringify(c)
  } catch (e) {
    if (e instanceof DOMException) return null
    throw e
  }
}
export const makePasskey = (options: string) =>
  by(() =>
    navigator.credentials.create({
      publicKey: (PublicKeyCredential as ByJSON).parseCreationOptionsFromJSON(JSON.parse(options)),
    }),
  )
export const usePasskey = (options: string) =>
  by(() =>
    navigator.credentials.get({
      publicKey: (PublicKeyCredential as ByJSON).parseRequestOptionsFromJSON(JSON.parse(options)),
    }),
  )
