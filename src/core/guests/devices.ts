/** Which camera and microphone a guest most likely wants, by their names. */

export interface NamedDevice {
	deviceId: string;
	label: string;
}

/** Not a person's camera or microphone, though the system lists them. */
const NEVER = /virtual|infrared|\bIR\b|monitor of|loopback|stereo mix/i;
/** What sits at the head is near the mouth, and its loudspeakers are not heard by it. */
const AT_HEAD = /head\s?(set|phones?)|ear\s?(phones?|buds?|pods?)|hands-?free/i;

/**
 * @param remembered what was chosen here before: its id, or its name when the browser has given it another id since
 * @returns the device; null when there is none
 */
export function bestDevice<D extends NamedDevice>(
	devices: readonly D[],
	remembered: NamedDevice | null,
	isMicrophone = false,
): D | null {
	const known =
		devices.find(({ deviceId }) => deviceId === remembered?.deviceId) ??
		devices.find(({ label }) => label !== '' && label === remembered?.label);
	if (known) return known;
	const likely = devices.filter(({ label }) => !NEVER.test(label));
	return (isMicrophone && likely.find(({ label }) => AT_HEAD.test(label))) || (likely[0] ?? devices[0] ?? null);
}
