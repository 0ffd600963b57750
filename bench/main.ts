/**
 * `npm run bench`: prints the figures as tables, or with `--json` as JSON. Ratios are to gunzip of
 * the same bytes in the same run.
 */
import { benchCalibration } from './calibration';
import { benchFlux } from './flux';
import { benchIndex } from './index-images';
import { benchEdits } from './edits';
import { benchOptical } from './optical';
import { benchSalvage } from './salvage';
import { benchLostSectors } from './lost-sectors';
import { writeManySectors } from './many-sectors';
import { benchRecovery, recoveryTable } from './recovery';
import { benchSound } from './sound';
import { benchVolume } from './volume';

const ms = (value: number) => value.toFixed(1);
const asJson = process.argv.includes('--json');

async function figures() {
  const flux = await benchFlux();
  const volume = await benchVolume();
  if (asJson) return console.log(JSON.stringify({ flux, volume }, null, 2));
  console.log(
    'Flux: a whole clean disk, two turns a track, container to checked sectors, ' +
      'in-process, median of seven warm runs, threads kept warm',
  );
  console.table(
    flux.map(
      ({
        layout,
        captureMB,
        one,
        two,
        whole,
        gunzip,
        parse,
        ratioOne,
        ratioTwo,
        ratioWhole,
        mbPerSecond,
        disksPerMinute,
        residentMB,
      }) => ({
        layout,
        MB: ms(captureMB),
        'one thread ms': ms(one.medianMs),
        cold: ms(one.coldMs),
        'two threads ms': ms(two.medianMs),
        'with SHA-256': ms(whole.medianMs),
        'gunzip ms': ms(gunzip.medianMs),
        'parse ms': ms(parse.medianMs),
        'one / gunzip': ratioOne.toFixed(2),
        'two / gunzip': ratioTwo.toFixed(2),
        'with SHA-256 / gunzip': ratioWhole.toFixed(2),
        'MB/s': ms(mbPerSecond),
        'disks a minute': ms(disksPerMinute),
        'resident MB': ms(residentMB),
      }),
    ),
  );
  console.log('FAT12: listing a volume');
  console.table([
    {
      files: volume.files,
      'list ms': volume.list.medianMs.toFixed(2),
      cold: ms(volume.list.coldMs),
      'gunzip ms': ms(volume.gunzip.medianMs),
      'list / gunzip': volume.ratio.toFixed(2),
    },
  ]);
}

const many = process.argv.indexOf('many-sectors');
if (many > 0) {
  writeManySectors(process.argv[many + 1]!);
} else if (process.argv.includes('salvage')) {
  console.table(benchSalvage());
} else if (process.argv.includes('edits')) {
  console.table(
    await benchEdits(Number(process.argv[process.argv.indexOf('edits') + 1] ?? 10_000)),
  );
} else if (process.argv.includes('recovery')) {
  const rows = benchRecovery(24);
  console.log(asJson ? JSON.stringify(rows, null, 2) : recoveryTable(rows));
} else if (process.argv.includes('calibration')) {
  console.table(benchCalibration());
} else if (process.argv.includes('lost-sectors')) {
  console.table(await benchLostSectors());
} else if (process.argv.includes('optical')) {
  const { rows, size } = benchOptical(process.cwd());
  if (asJson) console.log(JSON.stringify({ rows, size }, null, 2));
  else {
    console.table(
      rows.map(({ what, seconds, beside, baseline, ratio, most }) => ({
        what,
        s: seconds.toFixed(2),
        beside,
        'baseline s': baseline.toFixed(2),
        ratio: ratio.toFixed(2),
        'at most': most ?? '',
      })),
    );
    console.log(`packed size beside that of gzip -6: ${size.toFixed(4)} (at most 1.02)`);
  }
} else if (process.argv.includes('sound')) {
  const { megabytes, rows, resident } = await benchSound(process.cwd());
  console.log(`a sampler disc of ${ms(megabytes)} MB and 3,000 samples`);
  console.table(
    rows.map(({ what, s, beside, baseline, ratio, most }) => ({
      what,
      s: s.toFixed(2),
      beside,
      'baseline s': baseline.toFixed(2),
      ratio: ratio.toFixed(2),
      'at most': most.toFixed(2),
    })),
  );
  console.log(`in memory while it is taken out: ${ms(resident)} MB (at most 300)`);
} else if (process.argv.includes('index')) {
  const rows = benchIndex(process.cwd());
  if (asJson) console.log(JSON.stringify(rows, null, 2));
  else
    console.table(
      rows.map(({ what, spindle, sha256sum, ratio, most }) => ({
        what,
        'spindle s': spindle.toFixed(2),
        'sha256sum s': sha256sum.toFixed(2),
        ratio: ratio.toFixed(2),
        'at most': most,
      })),
    );
} else {
  await figures();
}
