/** The time zone of this machine, by its name in the IANA database. */
export function serverTimeZone(): string {
	return Intl.DateTimeFormat().resolvedOptions().timeZone;
}
