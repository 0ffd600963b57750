/**
 * Sectors of mode 2 (ECMA-130, clause 14; forms 1 and 2 behind a subheader that stands twice): which
 * form one is, by what passes its check or can be mended until it does, and only then by what its
 * subheader says.
 */
import { hasParity, mendParity, parityHolds, setParity } from './ecc';
import { edc, edcAt } from './edc';
import { hasSync, isZero, SYNC } from './sector-header';

export type Mode2Form = 'mode2' | 'mode2-form1' | 'mode2-form2';

interface CheckedMode2 {
  form: Mode2Form;
  verdict: 'good' | 'repairable' | 'unrepairable';
  bytes: Uint8Array;
}

/** The bit of the subheader's third byte that says form 2, and where the two copies have that byte. */
const FORM_2 = 0x20;
const SUBMODES = [18, 22] as const;
const SUBHEADER = 16;
const COPY_BYTES = 4;
/** Where the EDCs of form 1 and of form 2 stand; form 2 need have none, and has zeros then. */
const EDC_1 = 2072;
const EDC_2 = 2348;
/** Of a subheader's four bytes so many are alike in both copies, or it is none. */
const ALIKE = 2;

/** With the header taken as zero, as mode 2 has it for the parity. */
function withoutHeader<T>(sector: Uint8Array, work: (sector: Uint8Array) => T): T {
  const header = sector.slice(12, 16);
  sector.fill(0, 12, 16);
  const result = work(sector);
  sector.set(header, 12);
  return result;
}

/** Nothing but zeros has an EDC of zero, and proves nothing. */
const passesForm1 = (sector: Uint8Array): boolean =>
  edc(sector, SUBHEADER, EDC_1) === edcAt(sector, EDC_1) && !isZero(sector, SUBHEADER, EDC_1);

const hasForm2Edc = (sector: Uint8Array): boolean => edcAt(sector, EDC_2) !== 0;

const passesForm2 = (sector: Uint8Array): boolean =>
  hasForm2Edc(sector) && edc(sector, SUBHEADER, EDC_2) === edcAt(sector, EDC_2);

/** A sector whose EDC is right; the rest of it is as the EDC says. */
function passing(sector: Uint8Array, form: 'mode2-form1' | 'mode2-form2'): CheckedMode2 {
  const isWhole = form === 'mode2-form2' || withoutHeader(sector, parityHolds);
  if (hasSync(sector) && isWhole) return { form, verdict: 'good', bytes: sector };
  const mended = sector.slice();
  mended.set(SYNC);
  if (form === 'mode2-form1') withoutHeader(mended, setParity);
  return { form, verdict: 'repairable', bytes: mended };
}

/** `isHere`: zeros that the parity comes to are believed by their sync and header alone. */
function mendedForm1(
  sector: Uint8Array,
  isHere: boolean,
  flags: Uint8Array | null,
): CheckedMode2 | null {
  const mended = sector.slice();
  mended.set(SYNC);
  withoutHeader(mended, (bytes) => mendParity(bytes, flags));
  const isRight = passesForm1(mended) || (isHere && isZero(mended, SUBHEADER, mended.length));
  if (!isRight) return null;
  withoutHeader(mended, setParity);
  return { form: 'mode2-form1', verdict: 'repairable', bytes: mended };
}

/** Every subheader that has each of its bytes from one of its copies. */
function* subheadersOf(sector: Uint8Array): Generator<Uint8Array> {
  const [first, second] = [SUBHEADER, SUBHEADER + COPY_BYTES].map((at) =>
    sector.subarray(at, at + COPY_BYTES),
  ) as [Uint8Array, Uint8Array];
  const differing = [0, 1, 2, 3].filter((i) => first[i] !== second[i]);
  for (let choice = 0; choice < 1 << differing.length; choice++) {
    const mixed = first.slice();
    for (const [bit, i] of differing.entries()) if ((choice >> bit) & 1) mixed[i] = second[i]!;
    yield mixed;
  }
}

/**
 * Form 2 has no parity: only its subheader can be mended, each byte by its other copy, and the form
 * by what passes.
 */
function mendedForm2(sector: Uint8Array): CheckedMode2 | null {
  if (!hasForm2Edc(sector)) return null;
  const bytes = sector.slice();
  for (const subheader of subheadersOf(sector)) {
    for (const at of [SUBHEADER, SUBHEADER + COPY_BYTES]) bytes.set(subheader, at);
    for (const flipped of [0, FORM_2]) {
      for (const at of SUBMODES) bytes[at]! ^= flipped;
      if (!passesForm2(bytes)) continue;
      bytes.set(SYNC);
      return { form: 'mode2-form2', verdict: 'repairable', bytes };
    }
  }
  return null;
}

/** What the subheader says, where both copies say it; null where they differ. */
function saidForm(sector: Uint8Array): 1 | 2 | null {
  const [first, second] = SUBMODES.map((at) => sector[at]! & FORM_2);
  if (first !== second) return null;
  return first === FORM_2 ? 2 : 1;
}

/** Whether there is a subheader at all: most of it stands twice. */
function hasSubheader(sector: Uint8Array): boolean {
  let alike = 0;
  for (let i = SUBHEADER; i < SUBHEADER + COPY_BYTES; i++)
    if (sector[i] === sector[i + COPY_BYTES]) alike++;
  return alike >= ALIKE;
}

/** Form 2 without an EDC: nothing but its sync says how the rest came through. */
const unchecked = (bytes: Uint8Array): CheckedMode2 => ({
  form: 'mode2-form2',
  verdict: hasSync(bytes) ? 'good' : 'unrepairable',
  bytes,
});

/**
 * A sector of mode 2, descrambled; it is not changed. `isHere` says whether its sync and header are
 * right for its place: of zeros, and of what has no form, nothing else tells that it was read.
 */
export function checkMode2(
  sector: Uint8Array,
  isHere: boolean,
  flags: Uint8Array | null,
): CheckedMode2 {
  const byHeader = (form: Mode2Form): CheckedMode2 => ({
    form,
    verdict: isHere ? 'good' : 'unrepairable',
    bytes: sector,
  });
  if (isZero(sector, SUBHEADER, sector.length)) return byHeader('mode2-form1');
  if (passesForm1(sector)) return passing(sector, 'mode2-form1');
  if (passesForm2(sector)) return passing(sector, 'mode2-form2');
  const said = saidForm(sector);
  const isUnchecked = said === 2 && !hasForm2Edc(sector) && hasSubheader(sector);
  if (isUnchecked && !withoutHeader(sector.slice(), hasParity)) return unchecked(sector);
  const mended = mendedForm2(sector) ?? mendedForm1(sector, isHere, flags);
  if (mended) return mended;
  if (!hasSubheader(sector)) return byHeader('mode2');
  const form = said === 2 ? 'mode2-form2' : 'mode2-form1';
  return { form, verdict: 'unrepairable', bytes: sector };
}
