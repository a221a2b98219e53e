import pino from 'pino';

/** A query's parameters may be anything that somebody has typed; its text says enough. */
export function errorOf(error: unknown): unknown {
	if (!(error instanceof Error)) return error;
	const { name, message, stack, cause } = error;
	const isQuery = 'query' in error || 'sql' in error;
	const [said, trace] = isQuery ? [message.split('\nparams:')[0], undefined] : [message, stack];
	return { type: name, message: said, stack: trace, ...(cause ? { cause: errorOf(cause) } : {}) };
}

/** The server's log. Keys, passwords and parameters of queries are cut out wherever they might stand. */
export const log = pino({
	level: process.env.BIVVO_LOG ?? 'info',
	base: null,
	timestamp: pino.stdTimeFunctions.isoTime,
	serializers: { err: errorOf },
	redact: {
		paths: ['key', 'password', 'login', 'token', 'secret', '*.key', '*.password', '*.login', '*.token', '*.secret'],
		censor: '•••',
	},
});
