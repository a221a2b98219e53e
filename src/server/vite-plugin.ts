import type { Plugin } from 'vite';

/** In development, gives the server's WebSockets the HTTP server that `./bivvo start` makes itself. */
export function liveSockets(): Plugin {
	return {
		name: 'bivvo-live-sockets',
		configureServer(server) {
			// The server is opened with the first request; until then there is nothing behind the door.
			server.middlewares.use((request, response, next) => {
				if (globalThis.organisations) globalThis.organisations.listener(() => next())(request, response);
				else next();
			});
			server.httpServer?.on('upgrade', (request, socket, head) => {
				if (request.headers['sec-websocket-protocol'] === 'vite-hmr') return;
				globalThis.organisations?.upgrade(request, socket, head);
			});
		},
	};
}
