/** Times and rates as people read them. */

/** 3725 s → "1:02:05"; 65 s → "1:05". */
export function clockOf(seconds: number): string {
	const whole = Math.max(0, Math.floor(seconds));
	const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
	const two = (n: number) => String(n).padStart(2, '0');
	return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}

/** 2628 → "2.6 Mbit/s"; 640 → "640 kbit/s". */
export function rateOf(kbps: number): string {
	return kbps >= 1000 ? `${(kbps / 1000).toFixed(1)} Mbit/s` : `${kbps} kbit/s`;
}

/** 11 400 s → "3 h 10 min"; 1500 s → "25 min". */
export function durationOf(seconds: number): string {
	const minutes = Math.floor(seconds / 60);
	const [h, m] = [Math.floor(minutes / 60), minutes % 60];
	if (h === 0) return `${m} min`;
	if (h < 24) return `${h} h ${m} min`;
	if (h < 48) return '1 day';
	return h < 240 ? `${Math.floor(h / 24)} days` : 'more than ten days';
}

/** 12 582 912 → "13 MB". */
export function bytesOf(bytes: number): string {
	return bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${Math.round(bytes / 1e6)} MB`;
}

/** A moment, milliseconds since 1970, by this machine's clock → "19:05". */
export function timeOf(at: number): string {
	return new Date(at).toTimeString().slice(0, 5);
}
