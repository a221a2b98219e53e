/** What server and desk say to each other of a camera that comes by WHIP. */
import type { IceServer } from '../guests/messages.ts';

/** To the desk: an offer to be answered, and that what was offered has ended. */
export type LineSignal =
	{ is: 'offer'; session: string; sdp: string; iceServers: IceServer[] } | { is: 'end'; session: string };

/** From the desk; null refuses, or says that the connection has failed. */
export interface LineAnswer {
	is: 'answer';
	session: string;
	sdp: string | null;
}
