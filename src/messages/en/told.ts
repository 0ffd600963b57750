/** What is kept as a code with parameters, by what says it. */
import { analysis } from './told/core/analysis';
import { assembly } from './told/core/assembly';
import { block } from './told/core/block';
import { controller } from './told/core/controller';
import { decode } from './told/core/decode';
import { flux } from './told/core/flux';
import { identify } from './told/core/identify';
import { image } from './told/core/image';
import { layout } from './told/core/layout';
import { listing } from './told/core/listing';
import { merge } from './told/core/merge';
import { optical } from './told/core/optical';
import { plan } from './told/core/plan';
import { sound } from './told/core/sound';
import { catalogue16 } from './told/volumes/catalogue16';
import { cpm } from './told/volumes/cpm';
import { d64 } from './told/volumes/d64';
import { fat } from './told/volumes/fat';
import { areas, fields, records, values } from './told/volumes/fields';
import { granule } from './told/volumes/granule';
import { iso9660 } from './told/volumes/iso9660';
import { prodos } from './told/volumes/prodos';
import { sampler } from './told/volumes/sampler';
import { udf } from './told/volumes/udf';
import { volume } from './told/volumes/volume';
import { wavesample } from './told/volumes/wavesample';
import { assemblies } from './told/features/assemblies';
import { bags } from './told/records/bags';
import { copies } from './told/features/copies';
import { descriptions } from './told/records/descriptions';
import { extracts } from './told/features/extracts';
import { fixity } from './told/features/fixity';
import { holdings } from './told/features/holdings';
import { intake } from './told/features/intake';
import { layouts } from './told/features/layouts';
import { media } from './told/features/media';
import { memoryCards } from './told/features/memory-cards';
import { operators } from './told/features/operators';
import { platform } from './told/features/platform';
import { requests } from './told/features/requests';
import { parcels } from './told/records/parcels';
import { receipts } from './told/records/receipts';
import { folders } from './told/records/folders';
import { rights } from './told/records/rights';
import { secondStore } from './told/records/second-store';
import { signatures } from './told/features/signatures';
import { sittings } from './told/features/sittings';
import { stations } from './told/features/stations';
import { transfers } from './told/features/transfers';
import { writebacks } from './told/features/writebacks';
import { ofCaptures } from './told/commands/captures';
import { ofDiscs } from './told/commands/discs';
import { ofExtents } from './told/commands/extents';
import { ofImages } from './told/commands/images';
import { ofPacking } from './told/commands/packing';
import { ofServing } from './told/commands/serving';
import { ofSounds } from './told/commands/sounds';
import { commands } from './told/commands/shared';
import { acquired } from './told/names/acquired';
import { blanks } from './told/names/blanks';
import { elements } from './told/names/elements';
import { encodings } from './told/names/encodings';
import { forms } from './told/names/forms';
import { grades } from './told/names/grades';
import { held } from './told/names/held';
import { lacks } from './told/names/lacks';
import { marks } from './told/names/marks';
import { sides } from './told/names/sides';
import { sittingStates } from './told/names/sitting-states';
import { targets } from './told/names/targets';

export const told = {
  analysis,
  assembly,
  block,
  controller,
  decode,
  flux,
  identify,
  image,
  layout,
  listing,
  merge,
  optical,
  plan,
  sound,
  catalogue16,
  cpm,
  d64,
  fat,
  areas,
  fields,
  records,
  values,
  granule,
  iso9660,
  prodos,
  sampler,
  udf,
  volume,
  wavesample,
  assemblies,
  bags,
  copies,
  descriptions,
  extracts,
  fixity,
  holdings,
  intake,
  layouts,
  media,
  memoryCards,
  operators,
  parcels,
  platform,
  requests,
  receipts,
  folders,
  rights,
  secondStore,
  signatures,
  sittings,
  stations,
  transfers,
  writebacks,
  commands,
  ofCaptures,
  ofDiscs,
  ofExtents,
  ofImages,
  ofPacking,
  ofServing,
  ofSounds,
  acquired,
  blanks,
  elements,
  encodings,
  forms,
  grades,
  held,
  lacks,
  marks,
  sides,
  sittingStates,
  targets,
};
