/** @jest-environment jsdom */
/** PREMIS against its data dictionary: what stands where, and what leads to what, by a parser that is not ours. */
import fc from 'fast-check';
import { premisOf, type PremisRecord } from './premis';

const NS = 'http://www.loc.gov/premis/v3';
const RECORD: PremisRecord = {
  code: 'MS 12/B',
  title: 'Rota & <more>',
  files: [
    {
      ...{ path: 'MS 12-B/MS 12-B.img', name: 'MS 12-B.img', bytes: 737_280 },
      ...{ sha256: 'a'.repeat(64), sha512: 'b'.repeat(128), format: 'application/octet-stream' },
    },
  ],
  events: [
    {
      ...{ id: 'ledger-7', type: 'ingestion', at: new Date('2026-11-30T12:00:00Z') },
      ...{ detail: 'Taken in.', outcome: 'success', agents: ['operator-1'] },
    },
  ],
  agents: [{ id: 'operator-1', name: 'Tam Okoro', type: 'person' }],
  rights: null,
};

function read(xml: string): Element {
  const { documentElement } = new DOMParser().parseFromString(xml, 'application/xml');
  expect([documentElement.namespaceURI, documentElement.localName]).toEqual([NS, 'premis']);
  return documentElement;
}
const names = (of: Element): string[] => [...of.children].map(({ localName }) => localName);
const all = (of: Element, name: string) => [...of.getElementsByTagNameNS(NS, name)];
const texts = (of: Element, name: string) => all(of, name).map(({ textContent }) => textContent);

test('objects, events and agents in their order; a file has its digests, its size and what it is part of', () => {
  const root = read(premisOf(RECORD));
  expect(names(root)).toEqual(['object', 'object', 'event', 'agent']);
  const [entity, file] = all(root, 'object') as [Element, Element];
  expect(names(entity)).toEqual(['objectIdentifier', 'originalName']);
  expect(texts(entity, 'originalName')).toEqual(['Rota & <more>']);
  expect(names(file)).toEqual([
    ...['objectIdentifier', 'objectCharacteristics', 'originalName', 'relationship'],
  ]);
  expect(texts(file, 'messageDigest')).toEqual(['a'.repeat(64), 'b'.repeat(128)]);
  expect(texts(file, 'size')).toEqual(['737280']);
  expect(texts(file, 'relatedObjectIdentifierValue')).toEqual(['MS 12/B']);
  expect(texts(root, 'linkingAgentIdentifierValue')).toEqual(texts(root, 'agentIdentifierValue'));
  expect(texts(root, 'eventDateTime')).toEqual(['2026-11-30T12:00:00.000Z']);
});

test('a license, words alone and a restriction each have their place', () => {
  const rightsOf = (rights: PremisRecord['rights']) => {
    const root = read(premisOf({ ...RECORD, rights }));
    expect(texts(root, 'linkingRightsStatementIdentifierValue')).toEqual(
      texts(root, 'rightsStatementIdentifierValue'),
    );
    return all(root, 'rightsStatement')[0]!;
  };
  const uri = 'https://creativecommons.org/licenses/by/4.0/';
  const license = rightsOf({ statement: uri, words: '', restriction: null });
  expect(texts(license, 'rightsBasis')).toEqual(['license']);
  expect(texts(license, 'licenseDocumentationIdentifierType')).toEqual(['URI']);
  expect(texts(license, 'licenseDocumentationIdentifierValue')).toEqual([uri]);
  const words = rightsOf({
    ...{ statement: '', words: 'ask', restriction: { reason: 'embargo', opensOn: '2041-01-01' } },
  });
  expect(texts(words, 'rightsBasis')).toEqual(['other']);
  expect(texts(words, 'otherRightsNote')).toEqual(['ask']);
  expect(texts(words, 'restriction')).toEqual(['embargo (until 2041-01-01)']);
});

test('whatever is said, it is well-formed', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (said) => {
      const files = [{ ...RECORD.files[0]!, name: said, path: `x${said}` }];
      const events = [{ ...RECORD.events[0]!, detail: said }];
      expect(names(read(premisOf({ ...RECORD, title: said, files, events })))).toEqual([
        ...['object', 'object', 'event', 'agent'],
      ]);
    }),
  );
});
