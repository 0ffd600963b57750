/** What the feature signatures says: in errors, in the ledger, of work under way. */
export const signatures = {
  foundItIsIn: ({
    found,
    signatures,
    names,
  }: {
    found: number;
    signatures: string;
    names: string;
  }) => `${found} ${signatures} found: ${names}. It is in quarantine.`,
  signatureRulesTakenIn: ({
    rules,
    rules2,
    value,
  }: {
    rules: number;
    rules2: string;
    value: string;
  }) => `${rules} signature ${rules === 1 ? 'rule' : 'rules'} taken in: ${rules2}${value}.`,
  rule: ({ id }: { id: string }) => `rule ${id}`,
  theSignatureRuleWas: ({ id }: { id: string }) =>
    `The signature rule ${id} was removed, and what it found with it.`,
  thisImageIsIn: ({ name }: { name: string }) =>
    `This image is in quarantine: ${name} was found in it. Nothing was handed out; take it from its docket, knowing that.`,
};
