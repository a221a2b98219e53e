/** What a line of the line check can say, as codes; `lib/words` has the sentences. */
import type { DeliveryWarning } from '../delivery/rates.ts';
import type { SendFault } from '../delivery/send-fault.ts';
import type { Conflict } from '../show/runsheet/missing.ts';
import type { PageCommand } from '../show/command.ts';
import type { StationPage } from './facts.ts';

/** In the order in which one goes through them. */
export const CHECK_GROUPS = ['cameras', 'sound', 'delivery', 'machine', 'evening', 'people'] as const;
export type CheckGroup = (typeof CHECK_GROUPS)[number];

/**
 * `good` only for what was seen to be; `weak` goes, but should be looked at; `wrong` will be missed by viewers; `unseen` was not looked
 * at yet, or too long ago.
 */
export type CheckState = 'good' | 'weak' | 'wrong' | 'unseen';

/** What a line is about. */
export type CheckWhat =
	// Cameras
	| { is: 'noCamera' }
	| { is: 'camera'; name: string; width: number; height: number; fps: number | null }
	| { is: 'cameraFault'; name: string; fault: string }
	| { is: 'cameraShape'; name: string; width: number; height: number }
	| { is: 'cameraSmall'; name: string; height: number; wanted: number }
	| { is: 'cameraSlow'; name: string; fps: number; wanted: number }
	/** Stretched so far beyond its own pixels in a scene. */
	| { is: 'cameraSoft'; name: string; scene: string; sharpness: number }
	// Sound
	| { is: 'noSound' }
	| { is: 'channel'; name: string; levelDb: number }
	| { is: 'channelSilent'; name: string }
	| { is: 'channelFault'; name: string; fault: string }
	| { is: 'channelSoft' | 'channelLoud'; name: string; levelDb: number }
	/** The machine's own microphone is used although there is a console. */
	| { is: 'ownMicrophone'; name: string; console: string }
	| { is: 'lips'; name: string; measured: boolean }
	| { is: 'loudness'; integrated: number | null; targetLufs: number }
	// Delivery
	| { is: 'noDestination' }
	| { is: 'destination'; name: string; tested: boolean }
	| { is: 'destinationFault'; name: string; fault: SendFault }
	/** The key is that of the last broadcast. */
	| { is: 'oldKey'; name: string }
	| { is: 'details'; name: string; title: string }
	| { is: 'detailsOld'; name: string; title: string }
	| { is: 'detailsDay'; name: string; plannedAt: string }
	| { is: 'detailsNone'; name: string }
	/** The host shows it to nobody until somebody makes it public. */
	| { is: 'publicStep'; name: string }
	| { is: 'overCap'; warning: DeliveryWarning }
	| { is: 'line'; kbps: number; totalKbps: number }
	| { is: 'lineUnseen' }
	| { is: 'lineUnsteady'; kbps: number }
	| { is: 'lineFull'; kbps: number; totalKbps: number }
	| { is: 'recording'; roomS: number | null }
	| { is: 'recordingOff' }
	| { is: 'littleRoom'; roomS: number; wantedS: number }
	// Machine
	| { is: 'machine'; verdict: 'ample' | 'tight' | 'drops' | null; outdated: boolean }
	| { is: 'load'; load: number; pressed: boolean }
	| { is: 'database'; stored: boolean }
	| { is: 'clock'; where: string; aheadMs: number }
	| { is: 'clocks' }
	| { is: 'power'; where: string; charge: number; isFed: boolean }
	| { is: 'browser'; where: string; name: string; version: number; least: number }
	| { is: 'desk'; there: boolean }
	// Evening
	| { is: 'start'; startsAt: string; today: boolean }
	| { is: 'sheet'; cues: number }
	| { is: 'sheetConflict'; conflict: Conflict; cue: string }
	| { is: 'carried'; what: 'person' | 'card'; name: string; text: string }
	/** A text names a field that says nothing yet. */
	| { is: 'fieldEmpty'; name: string }
	| { is: 'clip'; name: string }
	| { is: 'clipGone' | 'clipDamaged'; name: string }
	| { is: 'songs'; count: number }
	| { is: 'rehearsal'; at: number | null; changedSince: boolean }
	// People
	| { is: 'guest'; name: string; here: boolean }
	| { is: 'guestLink'; name: string; why: 'expired' | 'usedUp' }
	| { is: 'device'; name: string; page: StationPage; here: boolean };

/** What a press beside the line does about it. */
export type CheckMend =
	| { does: 'command'; command: PageCommand }
	| { does: 'addSource' | 'measureLine' | 'testMachine' | 'rehearse' | 'look' | 'pair' | 'editFields' }
	| { does: 'editSource'; sourceId: string }
	| { does: 'editChannel'; channelId: string }
	| { does: 'editCue'; cueId: string | null }
	| { does: 'testDestination' | 'editDestination' | 'editDetails'; destinationId: string }
	| { does: 'open'; page: 'desk' | 'prepare' | 'mix' | 'media' | 'guests' | 'people' };

export interface CheckEntry {
	/** Names it among all entries. */
	key: string;
	group: CheckGroup;
	state: CheckState;
	what: CheckWhat;
	/** When it was seen to be so, milliseconds since 1970, by the server's clock; null where it follows from the setup. */
	at: number | null;
	mend: CheckMend | null;
}
