/** The description of the HTTP interface (OpenAPI Specification 3.1.1), made from the schemas that its routes check with. */
import { toJsonSchema } from '@valibot/to-json-schema';
import type { GenericSchema } from 'valibot';
import * as api from '../../core/programs/api.ts';
import { ACTION_IDS } from '../../core/show/actions/order.ts';

const EVENT = { name: 'event', in: 'path', required: true, schema: { type: 'string' } } as const;
const schemaOf = (schema: GenericSchema) => {
	const { $schema: _, ...rest } = toJsonSchema(schema, { errorMode: 'ignore', typeMode: 'input' });
	return rest;
};
const content = (schema: GenericSchema) => ({ 'application/json': { schema: schemaOf(schema) } });
const said = (description: string, schema: GenericSchema) => ({ description, content: content(schema) });
const REFUSED = {
	'401': said('There is no such token, or it was taken back.', api.apiErrorSchema),
	'403': said('The token’s role may not do this.', api.apiErrorSchema),
	'404': said('There is no such event.', api.apiErrorSchema),
	'429': { description: 'Too many requests; `Retry-After` says when to come again.' },
};
const get = (summary: string, schema: GenericSchema, parameters: readonly object[] = [EVENT]) => ({
	get: { summary, parameters, responses: { '200': said('It is so.', schema), ...REFUSED } },
});

/** @param origin where this server is reached */
export function openApi(origin: string) {
	return {
		openapi: '3.1.1',
		info: { title: 'Bivvo', version: '1', description: 'What other programs ask of an event and are told of it.' },
		servers: [{ url: `${origin}/api/v1` }],
		security: [{ token: [] }],
		components: { securitySchemes: { token: { type: 'http', scheme: 'bearer' } } },
		paths: {
			'/events': get('Events that the token opens', api.apiEventsSchema, []),
			'/events/{event}': get('How an event stands', api.apiStateSchema),
			'/events/{event}/changes': {
				get: {
					summary: 'How an event stands, now and after each change, as server-sent events named `state`',
					parameters: [EVENT],
					responses: {
						'200': {
							description: 'The data of each is as from `/events/{event}`.',
							content: { 'text/event-stream': { schema: { type: 'string' } } },
						},
						...REFUSED,
					},
				},
			},
			'/events/{event}/actions': get('What can be done, and what each action can be about', api.apiActionsSchema),
			'/events/{event}/actions/{action}': {
				post: {
					summary: 'Does an action, as the press of a button would',
					parameters: [
						EVENT,
						{ name: 'action', in: 'path', required: true, schema: { type: 'string', enum: ACTION_IDS } },
					],
					requestBody: { required: false, content: content(api.apiOrderSchema) },
					responses: { '200': said('It is done, or there was nothing to do.', api.apiDoneSchema), ...REFUSED },
				},
			},
			'/events/{event}/webhooks': {
				...get('Servers that are told what happens', api.apiHooksSchema),
				post: {
					summary: 'Another server is told',
					parameters: [EVENT],
					requestBody: { required: true, content: content(api.apiHookOrderSchema) },
					responses: { '201': said('It will be told.', api.apiHookMadeSchema), ...REFUSED },
				},
			},
			'/events/{event}/webhooks/{webhook}': {
				delete: {
					summary: 'It is told no more',
					parameters: [EVENT, { name: 'webhook', in: 'path', required: true, schema: { type: 'string' } }],
					responses: { '204': { description: 'It is gone.' }, ...REFUSED },
				},
			},
		},
		webhooks: {
			told: {
				post: {
					summary: 'What a webhook gets; signed as the Standard Webhooks specification says',
					requestBody: { content: content(api.apiDeliverySchema) },
					responses: { '204': { description: 'Any 2xx is an answer; others are tried again three times.' } },
				},
			},
		},
	};
}
