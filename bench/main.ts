/** `npm run bench`: prints the figures as tables, or with `--json` as JSON. Ratios are to gunzip of the same bytes in the same run. */
import { benchFlux } from './flux';
import { benchVolume } from './volume';

const ms = (value: number) => value.toFixed(1);
const flux = await benchFlux();
const volume = await benchVolume();
if (process.argv.includes('--json')) {
  console.log(JSON.stringify({ flux, volume }, null, 2));
} else {
  console.log('Flux: a whole clean disk, two turns a track, one thread, in-process, median of seven warm runs');
  console.table(flux.map(({ layout, captureMB, decode, withoutDigest, gunzip, parse, ratio, ratioWithoutDigest, mbPerSecond, disksPerMinute, residentMB }) => ({
    layout, 'capture MB': ms(captureMB), 'decode ms': ms(decode.medianMs), cold: ms(decode.coldMs), 'without SHA-256': ms(withoutDigest.medianMs), 'gunzip ms': ms(gunzip.medianMs), 'parse ms': ms(parse.medianMs),
    'decode / gunzip': ratio.toFixed(2), 'without SHA-256 / gunzip': ratioWithoutDigest.toFixed(2), 'MB/s': ms(mbPerSecond), 'disks a minute': ms(disksPerMinute), 'resident MB': ms(residentMB),
  })));
  console.log('FAT12: listing a volume');
  console.table([{ files: volume.files, 'list ms': volume.list.medianMs.toFixed(2), cold: ms(volume.list.coldMs), 'gunzip ms': ms(volume.gunzip.medianMs), 'list / gunzip': volume.ratio.toFixed(2) }]);
}
