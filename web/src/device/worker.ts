/// <reference lib="webworker" />
import { clientsClaim } from 'workbox-core'
import { cleanupOutdatedCaches, matchPrecache, precacheAndRoute } from 'workbox-precaching'
import { NavigationRoute, registerRoute } from 'workbox-routing'

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string; revision: string | null }[] }

// The page comes from the kitchen while that answers in time; otherwise the one that belongs to the files kept here. A
// new version takes over once all pages of the old one are closed, so that no page misses its files.
const patience = 4_000 // ms
registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      try {
        const page = await fetch(request, { signal: AbortSignal.timeout(patience) })
        if (page.status < 500) return page
      } catch {
        // not reached, or too slow
      }
      return (await matchPrecache('/')) ?? Response.error()
    },
    { denylist: [/^\/api\//, /^\/q\//, /\/[^/]+\.[^/]+$/] },
  ),
)
precacheAndRoute(self.__WB_MANIFEST)
cleanupOutdatedCaches()
clientsClaim()
