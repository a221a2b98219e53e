import { expect, it } from 'vitest';
import { errorOf } from './log.ts';

it('a query that failed is logged without what somebody has typed', () => {
	const cause = Object.assign(new Error('Duplicate entry'), { sql: "insert into x values ('ridge-lantern-1845')" });
	const failed = Object.assign(
		new Error('Failed query: insert into x values (?)\nparams: ridge-lantern-1845', { cause }),
		{
			query: 'insert into x values (?)',
			params: ['ridge-lantern-1845'],
		},
	);
	const said = JSON.stringify(errorOf(failed));
	expect(said).toContain('insert into x values (?)');
	expect(said).toContain('Duplicate entry');
	expect(said).not.toContain('ridge-lantern');
	expect(errorOf(new Error('plain'))).toMatchObject({
		message: 'plain',
		stack: expect.stringContaining('plain') as string,
	});
	expect(errorOf('no error')).toBe('no error');
});
