/** Names that stand beside one another on every system, whatever they are called on a medium. */
import * as fc from 'fast-check';
import { isSafeName } from '../safe-name';
import { UniqueNames } from '../unique-names';

/** What a system that folds case and accents takes a path for. */
const taken = (path: string): string =>
  path.normalize('NFC').toUpperCase().toLowerCase().normalize('NFC');

test('what differs in case, in the form of an accent or in a letter that is two is told apart', () => {
  const names = new UniqueNames();
  expect(
    ['Rota.txt', 'ROTA.TXT', 'caf\u00e9', 'cafe\u0301', 'stra\u00dfe', 'STRASSE'].map((name) =>
      names.pathOf(name),
    ),
  ).toEqual([
    'Rota.txt',
    'ROTA (2).TXT',
    'caf\u00e9',
    'cafe\u0301 (2)',
    'stra\u00dfe',
    'STRASSE (2)',
  ]);
});

test('folders that some system takes for one are one; a file of that name is called otherwise', () => {
  const names = new UniqueNames();
  expect(['Plans/a', 'PLANS/b', 'plans/A', 'plans'].map((path) => names.pathOf(path))).toEqual([
    ...['Plans/a', 'Plans/b', 'Plans/A (2)', 'plans (2)'],
  ]);
  expect(names.pathOf('plans (2)/c')).toBe('plans (2) (2)/c');
});

test('a new folder is nobody else’s, and what is put in it lies in it', () => {
  const names = new UniqueNames();
  const folders = [names.folderOf('2024-17-3'), names.folderOf('2024-17-3')];
  expect(folders).toEqual(['2024-17-3', '2024-17-3 (2)']);
  expect(folders.map((folder) => names.pathOf(`${folder}/x`))).toEqual([
    ...['2024-17-3/x', '2024-17-3 (2)/x'],
  ]);
});

test('any paths at all become paths that no system takes for one another', () => {
  const part = fc.oneof(
    fc.constantFrom('a', 'A', '..', '.', '', 'CON', 'a (2)', 'ß', 'SS', '\u00e9', 'e\u0301'),
    fc.string({ unit: 'binary', maxLength: 4 }),
  );
  const path = fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => parts.join('/'));
  fc.assert(
    fc.property(fc.array(path, { maxLength: 30 }), (paths) => {
      const names = new UniqueNames();
      const given = paths.map((each) => names.pathOf(each));
      expect(new Set(given.map(taken)).size).toBe(given.length);
      const folders = given.flatMap((each) => {
        const parts = each.split('/').slice(0, -1);
        return parts.map((_, i) => parts.slice(0, i + 1).join('/'));
      });
      // No file has the name of a folder, and no folder stands there in two ways.
      const files = new Set(given.map(taken));
      expect(folders.filter((folder) => files.has(taken(folder)))).toEqual([]);
      expect(new Set(folders.map(taken)).size).toBe(new Set(folders).size);
      expect(given.flatMap((each) => each.split('/')).every(isSafeName)).toBe(true);
    }),
  );
});
