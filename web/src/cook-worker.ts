/** Keeps the page to cook by in the browser, so that it opens without a network: the page, its scripts, styles and fonts.
 * What was put down is kept by the page itself. */
import { clientsClaim } from "workbox-core";
import { ExpirationPlugin } from "workbox-expiration";
import { registerRoute } from "workbox-routing";
import { CacheFirst, NetworkFirst } from "workbox-strategies";

void (self as unknown as { skipWaiting: () => Promise<void> }).skipWaiting();
clientsClaim();

// A file of these has its hash in its name: it never changes.
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/assets/"),
  new CacheFirst({
    cacheName: "wainscot-cook-files",
    plugins: [new ExpirationPlugin({ maxEntries: 150 })],
  }),
);
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/cook/"),
  new NetworkFirst({
    cacheName: "wainscot-cook-pages",
    networkTimeoutSeconds: 5,
    plugins: [new ExpirationPlugin({ maxEntries: 20 })],
  }),
);
