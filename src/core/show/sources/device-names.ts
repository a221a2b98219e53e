/** Names of devices: without their numbers, and told apart where several are of one make. */

interface Device {
	label: string;
	deviceId: string;
}

/** Vendor and product, as USB has them: `(046d:082d)`. */
const USB_NUMBERS = /\s*\([0-9a-f]{4}:[0-9a-f]{4}\)$/iu;

/**
 * @param devices all of the machine, in the order in which it lists them
 * @returns by device id what it is called
 */
export function deviceNames(devices: readonly Device[]): Map<string, string> {
	const plain = devices.map(({ label }) => label.replace(USB_NUMBERS, '').trim());
	return new Map(
		devices.map(({ deviceId }, i) => {
			const name = plain[i]!;
			const alike = plain.flatMap((each, at) => (each === name ? [at] : []));
			return [deviceId, alike.length > 1 ? `${name} ${alike.indexOf(i) + 1}` : name];
		}),
	);
}
