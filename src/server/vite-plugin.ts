import type { Plugin } from 'vite';

/** In development, gives the server's WebSockets the HTTP server that `./bivvo start` makes itself. */
export function liveSockets(): Plugin {
	return {
		name: 'bivvo-live-sockets',
		configureServer(server) {
			server.httpServer?.on('upgrade', (request, socket, head) => {
				if (request.headers['sec-websocket-protocol'] === 'vite-hmr') return;
				globalThis.bivvo?.upgrade(request, socket, head);
			});
		},
	};
}
