/** A relay of the tests' own: Debian's coturn on loopback. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { connect } from 'node:net';
import type { BrowserContext } from '@playwright/test';
import { freePort } from '../../command/settings.mjs';
import { until } from './app.ts';

export interface TestRelay {
	/** Settings of a server that uses it. */
	env: { BIVVO_TURN_URL: string; BIVVO_TURN_SECRET: string };
	port: number;
	close(): Promise<void>;
}

const SECRET = 'carry the water';

export async function startRelay(): Promise<TestRelay> {
	const port = await freePort();
	const at = ['--listening-ip', '127.0.0.1', '--relay-ip', '127.0.0.1', '--listening-port', String(port)];
	const login = ['--use-auth-secret', '--static-auth-secret', SECRET, '--realm', 'bivvo'];
	const rest = ['--allow-loopback-peers', '--no-cli', '--no-tls', '--no-dtls', '--log-file', 'stdout', '--pidfile', ''];
	const relay = spawn('/usr/bin/turnserver', ['-n', ...at, ...login, ...rest], { stdio: 'ignore' });
	let gone = false;
	relay.once('exit', () => (gone = true));
	await until('the relay', async () => {
		if (gone) throw new Error('The relay did not start.');
		const socket = connect(port, '127.0.0.1');
		const answered = await once(socket, 'connect').then(
			() => true,
			() => false,
		);
		socket.destroy();
		return answered;
	});
	return {
		port,
		env: { BIVVO_TURN_URL: `turn:127.0.0.1:${port}`, BIVVO_TURN_SECRET: SECRET },
		async close() {
			relay.kill('SIGTERM');
			await once(relay, 'exit');
		},
	};
}

/**
 * Lets pages of a browser find each other by the relay alone, which they reach by one transport. The page keeps its
 * connections as `window.peers`.
 * @param relayPort the relay's own
 * @param port where they find it, as through a line that is weak; its own port without one
 */
export async function onlyByRelay(
	context: BrowserContext,
	relayPort: number,
	transport: 'udp' | 'tcp',
	port = relayPort,
): Promise<void> {
	await context.addInitScript(`{
		const Plain = RTCPeerConnection;
		window.peers = [];
		window.RTCPeerConnection = class extends Plain {
			constructor(options) {
				const iceServers = options.iceServers.map((server) => ({
					...server,
					urls: server.urls
						.filter((url) => url.endsWith('transport=${transport}'))
						.map((url) => url.replace(':${relayPort}', ':${port}')),
				}));
				super({ ...options, iceServers, iceTransportPolicy: 'relay' });
				window.peers.push(this);
			}
		};
	}`);
}
