/**
 * What happened, to what, by whom, as PROV-JSON (W3C member submission of 24 April 2013): activities
 * with the agents that were associated with them and the entities that they used. Written piece by
 * piece, so that any number of activities takes no room.
 */

export interface ProvAgent {
  /** Of digits, letters and hyphens. */
  id: string;
  name: string;
  /** A person, or a program; `device` is neither. */
  type: 'person' | 'program' | 'device';
}

interface ProvEntity {
  id: string;
  label: string;
}

interface ProvActivity {
  id: string;
  at: Date;
  /** What kind of event it is. */
  kind: string;
  label: string;
  agents: readonly string[];
  /** What it was done to; null of what is of the whole house. */
  entity: string | null;
}

interface Provenance {
  /** A URI that identifiers are told within. */
  house: string;
  agents: readonly ProvAgent[];
  entities: () => AsyncIterable<ProvEntity>;
  /** The same each time that it is asked for. */
  activities: () => AsyncIterable<ProvActivity>;
}

const name = (id: string): string => `house:${id}`;

const TYPES = {
  person: { 'prov:type': { $: 'prov:Person', type: 'xsd:QName' } },
  program: { 'prov:type': { $: 'prov:SoftwareAgent', type: 'xsd:QName' } },
  device: {},
} as const;

type Member = readonly [key: string, value: unknown];

/** Members of an object, one a line. */
async function* section(key: string, members: AsyncIterable<Member>): AsyncGenerator<string> {
  yield `,\n${JSON.stringify(key)}: {`;
  let before = '\n';
  for await (const [id, value] of members) {
    yield `${before}${JSON.stringify(id)}: ${JSON.stringify(value)}`;
    before = ',\n';
  }
  yield '\n}';
}

async function* agentMembers({ agents }: Provenance): AsyncGenerator<Member> {
  for (const { id, name: label, type } of agents)
    yield [name(id), { ...TYPES[type], 'prov:label': label }];
}

async function* entityMembers({ entities }: Provenance): AsyncGenerator<Member> {
  for await (const { id, label } of entities()) yield [name(id), { 'prov:label': label }];
}

async function* activityMembers({ activities }: Provenance): AsyncGenerator<Member> {
  for await (const { id, at, kind, label } of activities()) {
    const time = at.toISOString();
    const when = { 'prov:startTime': time, 'prov:endTime': time };
    yield [name(id), { ...when, 'prov:type': kind, 'prov:label': label }];
  }
}

async function* associations({ activities }: Provenance): AsyncGenerator<Member> {
  for await (const { id, agents } of activities())
    for (const [i, agent] of agents.entries())
      yield [`_:${id}-by-${i}`, { 'prov:activity': name(id), 'prov:agent': name(agent) }];
}

async function* usages({ activities }: Provenance): AsyncGenerator<Member> {
  for await (const { id, entity } of activities())
    if (entity !== null)
      yield [`_:${id}-on`, { 'prov:activity': name(id), 'prov:entity': name(entity) }];
}

export async function* provJson(provenance: Provenance): AsyncGenerator<string> {
  const prefix = { prov: 'http://www.w3.org/ns/prov#', house: provenance.house };
  yield `{"prefix": ${JSON.stringify({ ...prefix, xsd: 'http://www.w3.org/2001/XMLSchema#' })}`;
  yield* section('agent', agentMembers(provenance));
  yield* section('entity', entityMembers(provenance));
  yield* section('activity', activityMembers(provenance));
  yield* section('wasAssociatedWith', associations(provenance));
  yield* section('used', usages(provenance));
  yield '\n}\n';
}
