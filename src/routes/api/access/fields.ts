/** What forms of people, devices and links bring. */
import * as v from 'valibot';
import { LINK_ROLES } from '$server/access/links.ts';
import { ROLES } from '$core/access/roles.ts';
import { idSchema, nameSchema } from '$core/show/basics.ts';

/** Longer ones are cut before they are hashed; far longer ones are no passwords. */
export const passwordSchema = v.pipe(v.string(), v.maxLength(1000));
export const loginSchema = v.pipe(
	v.string(),
	v.trim(),
	v.regex(/^[\p{L}\p{N}._@-]{2,64}$/u, 'A name to sign in with has 2 to 64 letters, figures, dots and dashes.'),
);
export const codeSchema = v.pipe(v.string(), v.maxLength(40));
export const secretSchema = v.pipe(v.string(), v.maxLength(100));
export const roleSchema = v.picklist(ROLES);
export const rolesSchema = v.object({
	role: v.nullable(roleSchema),
	roleAt: v.pipe(
		v.record(idSchema, roleSchema),
		v.check((roles) => Object.keys(roles).length <= 500, 'These are too many events.'),
	),
});
export const linkOrderSchema = v.object({
	name: nameSchema,
	role: v.picklist(LINK_ROLES),
	/** Milliseconds since 1970. */
	expiresAt: v.pipe(v.number(), v.safeInteger()),
	uses: v.pipe(v.number(), v.safeInteger(), v.minValue(1), v.maxValue(1000)),
});
/** What a browser says of a passkey; the library checks what is in it. */
export const credentialSchema = v.looseObject({
	id: v.pipe(v.string(), v.maxLength(500)),
	rawId: v.pipe(v.string(), v.maxLength(500)),
	type: v.literal('public-key'),
	response: v.looseObject({}),
	clientExtensionResults: v.looseObject({}),
});
