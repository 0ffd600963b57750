/** @jest-environment jsdom */
/** What a hand gets that drags a sample out of the page. */
import { offerFile, wavAddress } from '../wav-file';

function offered(name: string): Map<string, string> {
  const data = new Map<string, string>();
  const setData = (type: string, value: string) => void data.set(type, value);
  offerFile({ setData } as unknown as DataTransfer, { file: 12, name });
  return data;
}

test('its address, with a type and a name for whoever fetches it', () => {
  const address = `http://localhost${wavAddress(12)}`;
  expect([...offered('HORN LOW')]).toEqual([
    ['DownloadURL', `audio/wav:HORN LOW.wav:${address}`],
    ['text/uri-list', address],
  ]);
});

test.each([
  ['A/B', 'A_B'],
  ['..\\X', '.._X'],
  ['12:30', '12_30'],
  ['what?*', 'what__'],
])('%s is no name on a desktop', (name, safe) => {
  expect(offered(name).get('DownloadURL')).toMatch(`audio/wav:${safe}.wav:http`);
});
