/** A fader's value as people read it. */
export function dbText(gainDb: number): string {
	return gainDb <= -60 ? 'silent' : `${gainDb > 0 ? '+' : ''}${gainDb.toFixed(1)} dB`;
}

/** A change in level. */
export function signedDb(value: number): string {
	return `${value > 0 ? '+' : ''}${value.toFixed(1)} dB`;
}
