/**
 * How soon a page's WebSocket comes again. At first at once, for an event that has only gone to another node; then once
 * a second, so that a server that starts is not run over.
 */
export const RECONNECT = {
	minReconnectionDelay: 100,
	reconnectionDelayGrowFactor: 3,
	maxReconnectionDelay: 1000,
};

/** A sign of life: what the server sends each second on sockets on which it may have nothing else to say. */
export const ALIVE = 'alive';
