import pino from 'pino';

/** The server's log. Keys and passwords are cut out wherever they might stand. */
export const log = pino({
	level: process.env.BIVVO_LOG ?? 'info',
	base: null,
	timestamp: pino.stdTimeFunctions.isoTime,
	redact: { paths: ['key', 'password', 'login', '*.key', '*.password', '*.login'], censor: '•••' },
});
