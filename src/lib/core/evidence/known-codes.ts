import type { Catalog } from '../catalog/catalog';
import type { Known } from '../catalog/needs';
import { MEASURED_QUESTIONS, measuredAnswers } from './measurements';

/** What a catalog defines, for checking what names it. Tickets are not in it. */
export const knownIn = ({ records, tests, connectors, models }: Catalog): Known => ({
	has: (kind, key) => kind !== 'ticket' && records[kind].has(key),
	outcomesOf: (test) => tests.get(test)?.outcomes ?? null,
	pinsOf: (connector) => connectors.get(connector)?.pins.map(({ pin }) => pin) ?? null,
	connectorOf: (model) => models.get(model)?.connector ?? null,
	nodesOf: (model) => (models.has(model) ? (models.get(model)?.path ?? []).map(({ node }) => node) : null),
	pointsOf: (model) => (models.has(model) ? (models.get(model)?.points ?? []).map(({ code }) => code) : null),
	answersTo: measuredAnswers,
	questions: MEASURED_QUESTIONS.map(({ question }) => question),
	countNames: () => [
		...new Set(
			[...records.operation.values()].flatMap(({ per, when }) => [per?.count ?? [], when?.count ?? []].flat())
		)
	],
	catchAlls: () => [...records.fault.values()].flatMap(({ code, catch_all: is }) => (is ? code : []))
});
