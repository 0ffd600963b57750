import { counted } from '../../words';

/** What the feature signatures says: in errors, in the ledger, of work under way. */
export const signatures = {
  foundItIsIn: ({ found, names }: { found: number; names: string[] }) =>
    `${counted(found, 'signature')} found: ${names.join(', ')}. It is in quarantine.`,
  signatureRulesTakenIn: ({ rules, ids }: { rules: number; ids: string[] }) =>
    `${counted(rules, 'signature rule')} taken in: ${ids.join(', ')}${rules > ids.length ? ' …' : ''}.`,
  rule: ({ id }: { id: string }) => `rule ${id}`,
  theSignatureRuleWas: ({ id }: { id: string }) =>
    `The signature rule ${id} was removed, and what it found with it.`,
  thisImageIsIn: ({ name }: { name: string }) =>
    `This image is in quarantine: ${name} was found in it. Nothing was handed out; take it ` +
    'from its docket, knowing that.',
};
