/** WebSockets to the server that come again when they are torn, and when nothing is heard on them any more. */
import ReconnectingWebSocket from 'partysocket/ws';
import { ALIVE, RECONNECT } from '../core/show/reconnect.ts';

const CHECK_MS = 1000;
/** The server gives a sign of life each second. */
const SILENT_CHECKS = 5;

export class ServerSocket extends ReconnectingWebSocket {
	/** Told what comes, but for signs of life. */
	onheard: (data: string | ArrayBuffer) => void = () => {};
	/** Checks since anything was heard. They are counted, not times: a page that was busy has heard nothing either. */
	#silentChecks = 0;
	readonly #checking: ReturnType<typeof setInterval>;

	/** @param url or what tells it for each connection. What is sent while there is none is gone */
	constructor(url: string | (() => Promise<string>)) {
		super(url, [], { ...RECONNECT, maxEnqueuedMessages: 0 });
		this.binaryType = 'arraybuffer';
		this.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
			this.#silentChecks = 0;
			if (data !== ALIVE) this.onheard(data);
		};
		this.#checking = setInterval(() => this.#check(), CHECK_MS);
	}

	/** A machine that is cut off tells nobody that it is gone. */
	#check(): void {
		if (this.readyState !== ReconnectingWebSocket.OPEN || ++this.#silentChecks < SILENT_CHECKS) return;
		this.#silentChecks = 0;
		this.reconnect();
	}

	override close(code?: number, reason?: string): void {
		clearInterval(this.#checking);
		super.close(code, reason);
	}
}
