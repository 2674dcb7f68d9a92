/** Whether this browser can keep the application itself: only over TLS, and on the computer that serves it. */
export const canKeep = 'serviceWorker' in navigator && globalThis.isSecureContext

/** Has the browser keep the files of the application, once the first page is through. */
export function keepFiles() {
  if (!canKeep || import.meta.env.DEV) return
  const register = () => void navigator.serviceWorker.register('/worker.js').catch(() => {})
  setTimeout(() => ('requestIdleCallback' in window ? window.requestIdleCallback(register) : register()), 3_000)
}

/** A key of one's own for a request that is to be done once; also where the page did not come over TLS. */
export function newKey(): string {
  if (globalThis.isSecureContext) return crypto.randomUUID()
  const hex = Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-')
}
