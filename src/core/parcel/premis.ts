/**
 * What is kept of a medium, what happened to it, who did it and what may be done with it, as a
 * PREMIS 3.0 document (data dictionary version 3.0; the elements in the order of its schema).
 */
import { xmlText } from '../text/xml-text';

export const PREMIS_OPENING =
  '<?xml version="1.0" encoding="UTF-8"?>\n' +
  '<premis xmlns="http://www.loc.gov/premis/v3"\n' +
  '    xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"\n' +
  '    xsi:schemaLocation="http://www.loc.gov/premis/v3 ' +
  'https://www.loc.gov/standards/premis/premis.xsd"\n' +
  '    version="3.0">\n';
export const PREMIS_CLOSING = '</premis>\n';

export interface PremisFile {
  /** Where it lies: its identifier as well. */
  path: string;
  name: string;
  bytes: number;
  sha256: string;
  sha512: string;
  /** Its media type. */
  format: string;
}

export interface PremisEvent {
  id: string;
  /** A term of the vocabulary of event types. */
  type: string;
  /** With its zone. */
  at: Date;
  detail: string;
  outcome: 'success' | 'failure' | 'see the detail';
  /** Of those that took part in it, the first of which did it. */
  agents: readonly string[];
}

export interface PremisAgent {
  id: string;
  name: string;
  type: 'person' | 'software' | 'hardware';
  version?: string;
}

export interface PremisRights {
  /** A URI; empty where only words say it. */
  statement: string;
  words: string;
  /** Why it is not handed out, where it is not, and until which day. */
  restriction: { reason: string; opensOn: string } | null;
}

export interface PremisRecord {
  /** The medium: its code and its title. */
  code: string;
  title: string;
  files: readonly PremisFile[];
  events: readonly PremisEvent[];
  agents: readonly PremisAgent[];
  rights: PremisRights | null;
}

/** An element with text, or with elements; of text that says nothing, nothing. */
function element(name: string, content: string | readonly string[], attributes = ''): string {
  if (typeof content === 'string') {
    const text = content.trim();
    return text === '' ? '' : `<${name}${attributes}>${xmlText(text)}</${name}>\n`;
  }
  const inside = content.join('');
  return inside === '' ? '' : `<${name}${attributes}>\n${inside}</${name}>\n`;
}

const identifier = (name: string, value: string, type = 'local'): string =>
  element(name, [element(`${name}Type`, type), element(`${name}Value`, value)]);

const RIGHTS_ID = 'rights';

const fixity = (algorithm: string, digest: string): string =>
  element('fixity', [
    element('messageDigestAlgorithm', algorithm),
    element('messageDigest', digest),
  ]);

function fileObject(
  { path, name, bytes, sha256, sha512, format }: PremisFile,
  code: string,
): string {
  const characteristics = element('objectCharacteristics', [
    element('compositionLevel', '0'),
    fixity('SHA-256', sha256),
    fixity('SHA-512', sha512),
    element('size', String(bytes)),
    element('format', [element('formatDesignation', [element('formatName', format)])]),
  ]);
  const relationship = element('relationship', [
    element('relationshipType', 'structural'),
    element('relationshipSubType', 'is part of'),
    identifier('relatedObjectIdentifier', code),
  ]);
  return element(
    'object',
    [
      identifier('objectIdentifier', path),
      characteristics,
      element('originalName', name),
      relationship,
    ],
    ' xsi:type="file"',
  );
}

/** The medium as a thing that is described, which its files are parts of. */
export const premisEntity = ({
  code,
  title,
  rights,
}: Pick<PremisRecord, 'code' | 'title' | 'rights'>): string =>
  element(
    'object',
    [
      identifier('objectIdentifier', code),
      element('originalName', title),
      rights ? identifier('linkingRightsStatementIdentifier', RIGHTS_ID) : '',
    ],
    ' xsi:type="intellectualEntity"',
  );

/** `code`: of the object that had part in it. */
export const premisEvent = (event: PremisEvent, code: string): string => {
  const { id, type, at, detail, outcome, agents } = event;
  return element('event', [
    identifier('eventIdentifier', id),
    element('eventType', type),
    element('eventDateTime', at.toISOString()),
    element('eventDetailInformation', [element('eventDetail', detail)]),
    element('eventOutcomeInformation', [element('eventOutcome', outcome)]),
    ...agents.map((agent) => identifier('linkingAgentIdentifier', agent)),
    identifier('linkingObjectIdentifier', code),
  ]);
};

export const premisAgent = ({ id, name, type, version = '' }: PremisAgent): string =>
  element('agent', [
    identifier('agentIdentifier', id),
    element('agentName', name),
    element('agentType', type),
    element('agentVersion', version),
  ]);

const LICENSES = /^https?:\/\/creativecommons\.org\/licenses\//;

/** By a license, or by what else is said. */
function basisOf({ statement, words }: PremisRights): string[] {
  if (LICENSES.test(statement))
    return [
      element('rightsBasis', 'license'),
      element('licenseInformation', [
        identifier('licenseDocumentationIdentifier', statement, 'URI'),
        element('licenseNote', words),
      ]),
    ];
  const document =
    statement === '' ? '' : identifier('otherRightsDocumentationIdentifier', statement, 'URI');
  return [
    element('rightsBasis', 'other'),
    element('otherRightsInformation', [
      document,
      element('otherRightsBasis', 'statement of the archive'),
      element('otherRightsNote', words),
    ]),
  ];
}

function rightsOf(rights: PremisRights, code: string): string {
  const { restriction } = rights;
  const until = restriction?.opensOn ? ` (until ${restriction.opensOn})` : '';
  return element('rights', [
    element('rightsStatement', [
      identifier('rightsStatementIdentifier', RIGHTS_ID),
      ...basisOf(rights),
      element('rightsGranted', [
        element('act', 'disseminate'),
        restriction ? element('restriction', `${restriction.reason}${until}`) : '',
      ]),
      identifier('linkingObjectIdentifier', code),
    ]),
  ]);
}

/** Throws nothing: what XML has no character for becomes U+FFFD. */
export function premisOf(record: PremisRecord): string {
  const { code, files, events, agents, rights } = record;
  return (
    PREMIS_OPENING +
    [
      premisEntity(record),
      ...files.map((file) => fileObject(file, code)),
      ...events.map((event) => premisEvent(event, code)),
      ...agents.map(premisAgent),
      rights ? rightsOf(rights, code) : '',
    ].join('') +
    PREMIS_CLOSING
  );
}
