import { PLAIN_FITNESS } from '../../core/heads/printerHeads.ts';
import { Type, type Static } from 'typebox';

const Id = Type.String({ minLength: 1, maxLength: 64, pattern: '^[a-z0-9][a-z0-9-]*$' });
const Mm = Type.Number({ minimum: 0, maximum: 1e7 });
const Speed = Type.Number({ exclusiveMinimum: 0, maximum: 1e6 });
const Seconds = Type.Number({ minimum: 0, maximum: 1e5 });
const Name = Type.String({ minLength: 1, maxLength: 80 });
const orNull = <T extends Parameters<typeof Type.Union>[0][number]>(schema: T) => Type.Union([schema, Type.Null()]);

const DropPl = orNull(
  Type.Number({ exclusiveMinimum: 0, maximum: 1000, description: 'null: in sevenths of the full drop, 3 and 5' }),
);

export const ModeView = Type.Object({
  id: Id,
  name: Name,
  dpiX: Type.Number({ minimum: 30, maximum: 5000 }),
  dpiY: Type.Number({ minimum: 30, maximum: 5000 }),
  passes: Type.Integer({ minimum: 1, maximum: 64 }),
  oneDirectional: Type.Boolean(),
  whiteOneDirectional: Type.Boolean(),
  dropPl: Type.Number({ exclusiveMinimum: 0, maximum: 1000, description: 'of its full drop' }),
  smallPl: Type.Optional(DropPl),
  mediumPl: Type.Optional(DropPl),
  inkLimit: Type.Number({ exclusiveMinimum: 0, maximum: 8, description: 'sum of all channels; 2.4 is 240 %' }),
  profile: Type.String({ maxLength: 120 }),
  profilePasses: Type.Integer({ minimum: 1, maximum: 64, description: 'the pass count that the profile was made for' }),
  lineMmPerS: orNull(
    Type.Number({ exclusiveMinimum: 0, maximum: 1e5, description: 'of a page-wide array; null: a carriage' }),
  ),
  classShare: Type.Number({
    minimum: 0,
    maximum: 1,
    default: PLAIN_FITNESS.classShare,
    description: 'of the nozzles that print the same lines so many must be left',
  }),
  mostColumns: Type.Integer({
    minimum: 0,
    maximum: 1000,
    default: PLAIN_FITNESS.mostColumns,
    description: 'of a page-wide array: missing side by side at most',
  }),
  mostBadShare: Type.Number({
    minimum: 0,
    maximum: 1,
    default: PLAIN_FITNESS.mostBadShare,
    description: 'of a page-wide array: missing of any 10 mm at most',
  }),
});
export type ModeView = Static<typeof ModeView>;

export const MachineChannel = Type.Object({
  id: Id,
  name: Name,
  colour: Type.String({ pattern: '^#[0-9A-Fa-f]{6}$' }),
  heads: Type.Integer({ minimum: 1, maximum: 64, description: 'heads that fire this channel’s data' }),
  tankMl: Type.Number({ exclusiveMinimum: 0, maximum: 1e6 }),
  idleLimitH: Type.Number({ exclusiveMinimum: 0, maximum: 1e5, description: 'idle so long it is overdue for care' }),
});

export const MachineSource = Type.Object({
  id: Id,
  name: Name,
  kind: Type.Enum(['roll', 'tray', 'bed']),
  holds: Type.Integer({ minimum: 1, maximum: 10_000, description: 'sheets in a tray; 1 roll, 1 bed' }),
});
export type MachineSource = Static<typeof MachineSource>;

/** What a device can say of itself: everything that is built in. Lengths in mm, speeds in mm/s, times in s. */
export const MACHINE_ABOUT = {
  form: Type.String({ minLength: 1, maxLength: 80 }),
  head: Type.Enum(['carriage', 'page-wide']),
  printableWidthMm: Mm,
  widestMediaMm: Mm,
  narrowestMediaMm: Mm,
  registeredEdge: Type.Enum(['left', 'centre', 'right']),
  mediaMarginMm: Type.Object({ leftMm: Mm, rightMm: Mm }),
  leadMm: Mm,
  trailMm: Mm,
  longestMm: Mm,
  sources: Type.Array(MachineSource, { minItems: 1, maxItems: 12 }),
  /** Of a bed: the platens that it takes. */
  beds: Type.Array(Type.Object({ widthMm: Mm, lengthMm: Mm }), { maxItems: 12 }),
  channels: Type.Array(MachineChannel, { minItems: 1, maxItems: 24 }),
  colourWithWhite: Type.Boolean({ description: 'colour and white can share a pass' }),
  modes: Type.Array(ModeView, { minItems: 1, maxItems: 60 }),
  edgeToEdge: Type.Boolean(),
  oversprayMm: Type.Number({
    minimum: 0,
    maximum: 20,
    default: 0,
    description: 'edge to edge, so far over both edges of the media',
  }),
  finishing: Type.Object({ fullCut: Type.Boolean(), perforate: Type.Boolean(), contourCut: Type.Boolean() }),
  takeUp: Type.Boolean(),
  freeHangMm: orNull(Mm),
  readsChecks: Type.Boolean({ default: false, description: 'it reads its check plots itself' }),
  collectsMm: orNull(Type.Number({ minimum: 0, maximum: 1e7, description: 'length that basket or stacker holds' })),
  machine: Type.Object({
    nozzlesPerChannel: Type.Integer({ minimum: 1, maximum: 100_000 }),
    nozzlesPerInch: Type.Number({ exclusiveMinimum: 0, maximum: 10_000 }),
    bars: Type.Integer({ minimum: 1, maximum: 64, default: 1, description: 'of a page-wide array, side by side' }),
    carriageMmPerS: Speed,
    carriageMmPerS2: Speed,
    dwellS: Seconds,
    returnMmPerS: Speed,
    feedMmPerS: Speed,
    backFeedMmPerS: Speed,
    dryOutMmPerS: Speed,
    bedWidthMm: Mm,
    startUpS: Seconds,
    fullCutS: Seconds,
    perforateS: Seconds,
    loadS: Type.Number({ minimum: 0, maximum: 1e5, description: 'for each sheet or bed' }),
    handS: Type.Number({ minimum: 0, maximum: 1e5, description: 'a person’s time at each stop' }),
    trailerMm: Mm,
    cutter: orNull(Type.Object({ markReadS: Seconds, cutMmPerS: Speed, travelMmPerS: Speed, liftS: Seconds })),
  }),
};
export const MachineAbout = Type.Object({ id: Id, name: Name, ...MACHINE_ABOUT });
export type MachineAbout = Static<typeof MachineAbout>;
