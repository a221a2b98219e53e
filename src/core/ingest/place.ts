/** What is typed into a camera besides its key. */
export interface CameraPlace {
	/** Who can reach it: programs of this machine alone, or others. */
	reaches: 'machine' | 'network';
	/** Addresses by RTMP and RTMPS; null where none is offered. */
	rtmp: string | null;
	rtmps: string | null;
	/** Endpoint of WHIP. */
	whip: string;
}

/** What a form of a camera shows. */
export interface CameraTold extends CameraPlace {
	/** True while it sends by RTMP. */
	arrives: boolean;
	/** True where the stand-in camera can be tried. */
	canStandIn: boolean;
}
