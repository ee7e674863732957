import { z } from 'zod';
import {
	compareAnswer,
	compareBody,
	importAnswer,
	judgeAnswer,
	judgeBody,
	oddsAnswer,
	oddsAsked,
	problemAnswer,
	quoteAnswer,
	quoteBody,
	COMEBACKS_BY,
	comebacksAnswer,
	shelfAnswer,
	traceAnswer
} from './api-schemas';
import { scheduleAnswer, scheduleBody } from './schedule-schemas';
import { schemaOfKind } from './json-schema';
import { RECORD_NAMES } from './record-kinds';
import { ticketRecord } from '../tickets/ticket-record';

const schemaOf = (schema: z.ZodType, io: 'input' | 'output') => {
	const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' });
	return rest;
};
const jsonBody = (schema: z.ZodType, io: 'input' | 'output') => ({
	content: { 'application/json': { schema: schemaOf(schema, io) } }
});
const refused = (description: string) => ({
	description,
	content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } }
});
const REFUSALS = {
	401: refused('no token, or one that is unknown or revoked'),
	403: refused('a token of another role'),
	422: refused('input refused, with a list of errors; nothing was done'),
	503: refused('the database is away')
};
const lines = { 'application/x-ndjson': { schema: { type: 'string' } } };

/** The API as OpenAPI 3.1, from the same schemas that check its input. */
export function openApiDocument() {
	return {
		openapi: '3.1.0',
		info: {
			title: 'Tavrek',
			version: '1',
			description: 'The HTTP API of a repair shop. Records and rules: docs/exchange.md.',
			license: { name: 'MIT', identifier: 'MIT' }
		},
		servers: [{ url: '/' }],
		security: [{ token: [] }],
		paths: {
			'/api/v1/import': {
				post: {
					operationId: 'import',
					summary: 'Takes JSON Lines, all or nothing unless lenient',
					parameters: [
						{ name: 'mode', in: 'query', schema: { type: 'string', enum: ['strict', 'lenient'] } }
					],
					requestBody: { required: true, content: lines },
					responses: {
						200: { description: 'what was taken', ...jsonBody(importAnswer, 'output') },
						...REFUSALS
					}
				}
			},
			'/api/v1/export': {
				get: {
					operationId: 'export',
					summary: 'Streams everything as JSON Lines',
					responses: { 200: { description: 'one record a line', content: lines }, ...REFUSALS }
				}
			},
			'/api/v1/tickets/{number}': {
				get: {
					operationId: 'ticket',
					summary: 'One ticket',
					parameters: [{ name: 'number', in: 'path', required: true, schema: { type: 'string' } }],
					responses: {
						200: { description: 'the ticket', ...jsonBody(ticketRecord, 'input') },
						404: refused('no such ticket'),
						...REFUSALS
					}
				}
			},
			'/api/v1/odds': {
				post: {
					operationId: 'odds',
					summary: 'Chances of faults and the next steps for some evidence; keeps nothing',
					requestBody: { required: true, ...jsonBody(oddsAsked, 'input') },
					responses: { 200: { description: 'the odds', ...jsonBody(oddsAnswer, 'output') }, ...REFUSALS }
				}
			},
			'/api/v1/quote': {
				post: {
					operationId: 'quote',
					summary: 'Minutes, cost and price for some evidence or known faults; keeps nothing',
					requestBody: { required: true, ...jsonBody(quoteBody, 'input') },
					responses: { 200: { description: 'the quote', ...jsonBody(quoteAnswer, 'output') }, ...REFUSALS }
				}
			},
			'/api/v1/shelf': {
				get: {
					operationId: 'shelf',
					summary: 'What is on the shelf, what is asked for, and when to order how much',
					parameters: [
						{ name: 'as_of', in: 'query', schema: { type: 'string', format: 'date-time' } },
						{
							name: 'service',
							in: 'query',
							description: 'share of the pieces asked for that must be there at once',
							schema: { type: 'number', minimum: 0.5, maximum: 0.9999, default: 0.95 }
						}
					],
					responses: { 200: { description: 'the shelf', ...jsonBody(shelfAnswer, 'output') }, ...REFUSALS }
				}
			},
			'/api/v1/comebacks': {
				get: {
					operationId: 'comebacks',
					summary: 'How often what was fixed came back, by what; fair ratios and early warnings',
					parameters: [
						{ name: 'by', in: 'query', required: true, schema: { type: 'string', enum: COMEBACKS_BY } },
						{ name: 'days', in: 'query', schema: { type: 'number', exclusiveMinimum: 0, default: 90 } },
						{ name: 'as_of', in: 'query', schema: { type: 'string', format: 'date-time' } }
					],
					responses: { 200: { description: 'the rows', ...jsonBody(comebacksAnswer, 'output') }, ...REFUSALS }
				}
			},
			'/api/v1/current/judge': {
				post: {
					operationId: 'judgeCurrent',
					summary: 'Verdicts on currents at the plug, the battery and a soak; keeps nothing',
					requestBody: { required: true, ...jsonBody(judgeBody, 'input') },
					responses: {
						200: { description: 'the verdicts', ...jsonBody(judgeAnswer, 'output') },
						...REFUSALS
					}
				}
			},
			'/api/v1/schedule': {
				post: {
					operationId: 'schedule',
					summary: 'A plan of the bench: who does what, where and when; keeps nothing',
					requestBody: { required: true, ...jsonBody(scheduleBody, 'input') },
					responses: {
						200: { description: 'the plan', ...jsonBody(scheduleAnswer, 'output') },
						...REFUSALS
					}
				}
			},
			'/api/v1/readings/compare': {
				post: {
					operationId: 'compareReadings',
					summary: 'A verdict for each contact and net of some readings; keeps nothing',
					requestBody: { required: true, ...jsonBody(compareBody, 'input') },
					responses: {
						200: { description: 'the verdicts', ...jsonBody(compareAnswer, 'output') },
						...REFUSALS
					}
				}
			},
			'/api/v1/traces/interpret': {
				post: {
					operationId: 'interpretTrace',
					summary: 'The phases that a meter log shows; keeps nothing',
					parameters: [{ name: 'model', in: 'query', schema: { type: 'string' } }],
					requestBody: { required: true, content: { 'text/csv': { schema: { type: 'string' } } } },
					responses: {
						200: { description: 'the phases', ...jsonBody(traceAnswer, 'output') },
						413: refused('more than 64 MiB'),
						...REFUSALS
					}
				}
			}
		},
		components: {
			securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
			schemas: {
				Problem: schemaOf(problemAnswer, 'output'),
				...Object.fromEntries(RECORD_NAMES.map((kind) => [`record-${kind}`, schemaOfKind(kind)]))
			}
		}
	};
}
