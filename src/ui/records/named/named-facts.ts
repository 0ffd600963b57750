/** What is known of a lender and of a machine beside its name. */
export const NAMED_FACTS = Object.freeze({
  lenders: ['contact', 'notes'],
  machines: ['kind', 'identifier', 'notes'],
} as const);
