/** @jest-environment jsdom */
/** Labels to print: one a medium, whose bars are the bars of Code 128. */
import { render, screen } from '@testing-library/react';
import { SCAN_MARK } from '../../frame/scanner';
import { LabelSheet } from '../label-sheet';

const medium = (code: string, over = {}) => ({
  code,
  title: 'Tide tables',
  lot: 'lot 7',
  form: '3.5',
  setName: '',
  setNumber: null,
  ...over,
});

/** Widths of the bars and spaces of Code 128's signs (ISO/IEC 15417), by their values. */
const SIGNS = (
  '212222 222122 222221 121223 121322 131222 122213 122312 132212 221213 221312 231212 112232 ' +
  '122132 122231 113222 123122 123221 223211 221132 221231 213212 223112 312131 311222 321122 ' +
  '321221 312212 322112 322211 212123 212321 232121 111323 131123 131321 112313 132113 132311 ' +
  '211313 231113 231311 112133 112331 132131 113123 113321 133121 313121 211331 231131 213113 ' +
  '213311 213131 311123 311321 331121 312113 312311 332111 314111 221411 431111 111224 111422 ' +
  '121124 121421 141122 141221 112214 112412 122114 122411 142112 142211 241211 221114 413111 ' +
  '241112 134111 111242 121142 121241 114212 124112 124211 411212 421112 421211 212141 214121 ' +
  '412121 111143 111341 131141 114113 114311 411113 411311 113141 114131 311141 411131 211412 ' +
  '211214 211232'
).split(' ');
const START_B = 104;
const TO_B = 100;
const TO_C = 99;
const STOP = '2331112';

/** What a scanner reads, where the check is right; null where it is not. */
function scanned(widths: string): string | null {
  if (!widths.endsWith(STOP)) return null;
  const values = widths
    .slice(0, -STOP.length)
    .match(/.{6}/g)!
    .map((each) => SIGNS.indexOf(each));
  const check = values.pop();
  const sum = values.reduce((all, value, i) => all + value * Math.max(1, i), 0);
  if (values[0] !== START_B || sum % 103 !== check) return null;
  let [text, isPairs] = ['', false];
  for (const value of values.slice(1)) {
    if (value === (isPairs ? TO_B : TO_C)) isPairs = !isPairs;
    else text += isPairs ? String(value).padStart(2, '0') : String.fromCharCode(32 + value);
  }
  return text;
}

test('none chosen: nothing is printed, and that is said', () => {
  render(<LabelSheet media={[]} />);
  expect(screen.getByRole('button').hasAttribute('disabled')).toBe(true);
  expect(screen.queryByRole('img')).toBeNull();
});

test('one a medium, with its set where it has one, else its lot', () => {
  const media = [
    medium('TST-0001'),
    medium('TST-0002', { setName: 'Logs', setNumber: 3 }),
    medium('TST-0003', { setName: 'Logs' }),
  ];
  const { container } = render(<LabelSheet media={media} />);
  const bars = screen.getAllByRole('img').map((each) => each.getAttribute('data-code'));
  expect(bars).toEqual(['TST-0001', 'TST-0002', 'TST-0003']);
  const feet = [...container.querySelectorAll('p > span')].map((each) => each.textContent);
  expect(feet).toEqual(['lot 7', 'Logs 3', 'Logs']);
});

test.each(['TST-0001', 'SKP-1234', 'A-7'])('the bars of %s are read as a scan of it', (code) => {
  render(<LabelSheet media={[medium(code)]} />);
  const bars = [...screen.getByRole('img').querySelectorAll('rect')]
    .map((rect) => ({
      x: Number(rect.getAttribute('x')) / 1.5,
      width: Number(rect.getAttribute('width')) / 1.5,
    }))
    // The ground is one as well.
    .filter(({ width }) => width <= 4);
  const widths = bars.flatMap(({ x, width }, i) => {
    const next = bars[i + 1];
    return next ? [width, next.x - x - width] : [width];
  });
  expect(scanned(widths.map((each) => Math.round(each)).join(''))).toBe(`${SCAN_MARK}${code}`);
});

test('bars of a long code are made as narrow as the label needs, and that is said', () => {
  const code = '2024/017/3 - box of the tide office, 2'.slice(0, 38).replace(',', '.');
  render(<LabelSheet media={[medium('SKP-0117'), medium(code)]} />);
  for (const bars of document.querySelectorAll('svg[data-code]')) {
    expect(bars.getAttribute('preserveAspectRatio')).toBe('none');
    expect(bars.getAttribute('viewBox')).toMatch(/^0 0 \d/);
    expect(bars.classList.contains('max-w-full')).toBe(true);
  }
  expect(screen.getByRole('note').textContent).toContain(code);
  expect(screen.getByRole('note').textContent).not.toContain('SKP-0117');
});
