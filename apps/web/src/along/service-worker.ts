import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';

/** The files of the phone's app, put in by the build: name and, where the name holds no hash, what it is made of. */
declare const __ALONG_FILES__: { url: string; revision: string | null }[];

/** The app starts from the phone's own store, network or not; what it asks of the server goes straight there. */
precacheAndRoute(__ALONG_FILES__);
cleanupOutdatedCaches();
registerRoute(new NavigationRoute(createHandlerBoundToURL('/along.html'), { allowlist: [/^\/along(\/|$|\?)/] }));
