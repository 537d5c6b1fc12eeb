/** Channels of a run, whichever it is. */
export const CHANNELS = '/bench/…/channels';

/** What a view is for and how it is read, for who sees it the first time. */
export const VIEW_HELP: Readonly<Record<string, readonly string[]>> = {
  '/floor': [
    'Each row is a printer. At the left stand its state, what is loaded at its real size, and its ink; at the right its line at true times, with the line of now.',
    'A bar is a run, as long as it takes, with its layout on it. A torn red edge shows where media or ink ends, dotted lines are waits, hatched time is when nobody is there.',
    'Next hands, above, says what people have to do, the most urgent first. Tick it off there, or open the printer.',
    'Drag a run to another place or another printer: what that costs is said before you let go.',
  ],
  '/intake': [
    'Every file that has come in is a job with a ticket. A triangle warns; a red circle keeps the job back. A click on a finding often mends it.',
    'A value on a ticket says where it comes from: set here, from the preset, the hot folder, the queue, the stock or the printer.',
    'Choose jobs and lay them out: they become one run. “What could run together” proposes batches.',
  ],
  '/bench': [
    'The media lies with its leading edge at the left, to scale. Pieces can be dragged, turned and locked; the figures at the right follow at once.',
    'The length at the top is what the run takes. Below it stands how much longer that is than what no layout can beat.',
    'Nothing is printed before you queue the run.',
  ],
  [CHANNELS]: [
    'What the printer will fire, from the whole run down to single drops, as its mode’s profile and ink limit make it. The leading edge is at the left, as on the Bench.',
    'Hide channels to see the others alone. Covered says how much of the media a channel lays full ink on, Here what lies under the pointer, or in the middle.',
    'The colours are those of the inks one over the other: to look at, no proof. How a job will look stands on its ticket: See it in print.',
    'How much ink lies where shows it as heat, red from the ink limit on. The picture beside the zoom keeps what is seen as PNG, with its values.',
  ],
  '/rota': [
    'Each row is a printer’s time, to scale: runs above, care below. Hatched is when nobody is there.',
    'A sign is a purge, a check, a clean or a stir. A dashed one is skipped because work does the same; a red one is in conflict: open it, it says what to do.',
    'Timers bring care by themselves. Below stand all of them, each with when it comes next; pause one, or all of a printer.',
  ],
  '/rota/away': [
    'Choose when nobody is there. Each row is a printer’s time: yellow runs are printed by themselves, a raised hand waits for a person, a red line is where media or ink ends.',
    'Draw along the slider below the rows, and rolls, tanks and baskets stand as they will then.',
    'Before you go lists what a hand could do now, what brings most first. A tick shows the night as if it were done. Then arm it: what needs a hand is held out while nobody is there.',
  ],
  '/heads': [
    'Each row is a printer. A comb is a channel: every tooth is a nozzle at its place. A gap with a mark below is a nozzle that fires nothing, a short mark one that fires too little, a slanted one fires beside its place.',
    'A channel that is not fit for a mode keeps runs that fire it from printing in that mode. Passes hide single nozzles, so that a few may be missing.',
    'Print a check, read it by tapping the bad lines or from a picture, then do what is advised: the cheapest first.',
  ],
  '/media': [
    'Every roll and pack is drawn at one scale: the outer circle is the roll as it came, the yellow band what is left.',
    'A ledger says where each metre went. Correct what is left when you have measured it.',
    'Carry a spool onto a printer to load it, or open the printer.',
  ],
  '/pace': [
    'Figures of a day, week, month, quarter or year, beside as much of the one before. Press one, and it is drawn over time: columns are now, the line is before.',
    'Side by side stand printers, stocks, customers, queues or modes. Press one, and the runs that its figures are made of stand at the right.',
    'Every figure says what it is divided by when you rest the pointer on it. A dash means that there was nothing to divide by.',
  ],
  '/shelf': [
    'Printed work stands here as its keep rule says, with its ticket and its layout.',
    'Print it again as it was, print single pieces again that were spoiled, or open it as a new job.',
  ],
  '/me': [
    'What is your own: how figures are read, light or dark, what calls you, and how you sign in. It is the same on each of your screens.',
    'Sign out here when you leave a tablet to somebody else.',
  ],
  '/setup': [
    'Everything that is described once: printers with their constants, queues with hot folders, presets, stocks, routing rules, hours, sizes.',
    'What you change counts for what comes from now on; runs that are laid out keep their layout.',
  ],
};

/** The first steps in the demo: what to do, and where. */
export const GUIDE: readonly {
  readonly title: string;
  readonly text: string;
  readonly path: string;
  readonly field: string;
}[] = [
  {
    title: 'See what the printers do',
    text: 'Each row of the Floor is a printer with its line at true times. Shop time runs fast here; the clock at the lower left sets how fast.',
    path: '/floor',
    field: 'Propose an order',
  },
  {
    title: 'Lend a hand',
    text: 'Next hands says what people have to do: load, empty, confirm. Open one, or tick it off. The crew does what you leave to it.',
    path: '/floor',
    field: 'Sound and notifications',
  },
  {
    title: 'Look at a ticket',
    text: 'In Intake, open a job. See what is wrong with it, mend it by a click, and change its copies.',
    path: '/intake',
    field: 'Filter jobs',
  },
  {
    title: 'Lay jobs out',
    text: 'Tick some jobs of one printer and press “Lay out”. On the Bench, drag a piece and look at the length above.',
    path: '/intake',
    field: 'Choose all that are shown',
  },
  {
    title: 'Queue the run',
    text: 'Press “Queue” on the Bench, then go to the Floor: your run stands in its line, and its start time rests on what is ahead of it.',
    path: '/bench',
    field: 'Propose batches',
  },
  {
    title: 'Print something again',
    text: 'The Shelf keeps what was printed. Find a job and print it again as it was, or only the pieces that were spoiled.',
    path: '/shelf',
    field: 'Search the Shelf',
  },
];
