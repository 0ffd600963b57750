/** What pages say, by the feature they belong to. */
import { assemblies } from './pages/assemblies';
import { bytes } from './pages/image/bytes';
import { charts } from './pages/charts';
import { correct } from './pages/correct';
import { copies } from './pages/image/copies';
import { descriptions } from './pages/records/descriptions';
import { docket } from './pages/docket';
import { folders } from './pages/records/folders';
import { forms } from './pages/forms';
import { frame } from './pages/frame';
import { holdings } from './pages/holdings';
import { layouts } from './pages/layouts';
import { fixity, ledger } from './pages/ledger';
import { loupe } from './pages/image/loupe';
import { media } from './pages/media';
import { memoryCards } from './pages/memory-cards';
import { named } from './pages/records/named';
import { parcels } from './pages/records/parcels';
import { parts } from './pages/parts';
import { receipts } from './pages/records/receipts';
import { rights } from './pages/records/rights';
import { room } from './pages/records/room';
import { sheets } from './pages/records/sheets';
import { signatures } from './pages/signatures';
import { sittings } from './pages/sittings';
import { sounds } from './pages/image/sounds';
import { stations } from './pages/stations';
import { titles } from './pages/titles';
import { transfers } from './pages/transfers';
import { withdrawal } from './pages/records/withdrawal';
import { certificates, writebacks } from './pages/writebacks';

export const pages = {
  assemblies,
  bytes,
  certificates,
  charts,
  copies,
  correct,
  descriptions,
  docket,
  fixity,
  folders,
  forms,
  frame,
  holdings,
  layouts,
  ledger,
  loupe,
  media,
  memoryCards,
  named,
  parcels,
  parts,
  receipts,
  rights,
  room,
  sheets,
  signatures,
  sittings,
  sounds,
  stations,
  titles,
  transfers,
  withdrawal,
  writebacks,
};
