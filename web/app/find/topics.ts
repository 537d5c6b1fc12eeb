/** Something of the application that is found by the words of the trade, with the place where it is. */
export interface Topic {
  readonly name: string;
  /** What else people call it, and what belongs to it. */
  readonly words: string;
  readonly path: string;
  /** The very field there. */
  readonly field: string;
}

/** Where the first of a kind is set up; of the others there are entries of their own. */
interface Firsts {
  readonly printerId: string | undefined;
  readonly queueId: string | undefined;
  readonly stockId: string | undefined;
  readonly spoolId: string | undefined;
  /** A job on the Shelf. */
  readonly keptId: string | undefined;
}

/**
 * Settings, actions and help by the trade's words. Values of a ticket lead to the queue that gives them to what arrives: there
 * they stand in the same form as on the ticket of a job.
 */
export function topics({ printerId, queueId, stockId, spoolId, keptId }: Firsts): Topic[] {
  const printer = `/setup?printer=${printerId ?? ''}`;
  const queue = `/setup?queue=${queueId ?? ''}`;
  const stock = `/setup?stock=${stockId ?? ''}`;
  const floor = `/floor?printer=${printerId ?? ''}`;
  // By the name of the topic, where its field is called otherwise by the third word.
  const of = (path: string, rows: readonly (readonly [name: string, words: string, field?: string])[]): Topic[] =>
    rows.map(([name, words, field]) => ({ name, words, path, field: field ?? name }));
  return [
    ...of(queue, [
      ['Cut off', 'cutter, full cut, perforated, cut off at the end, guillotine'],
      ['Dry-out feed', 'drying, dry, ink dries, slow feed'],
      ['Drying time', 'rest, let it dry, wait before cutting'],
      ['Heater', 'dryer, temperature, degrees'],
      ['Ink limit', 'total ink, TAC, too much ink, ink density'],
      ['Carriage span', 'carriage, head travel, whole bed, media, artwork, speed'],
      ['Print mode', 'passes, resolution, dpi, quality, draft, fine'],
      ['Mirror', 'mirrored, flip, reverse, back-lit, window'],
      ['Size', 'scale, percent, width, height, named size, A1, B1, enlarge'],
      ['Crop', 'trim away, cut away, margins of the artwork'],
      ['Turn', 'rotate, rotation, orientation, quarter turn, 90 degrees'],
      ['Bleed', 'bleed, over the trim'],
      ['Copies', 'how many, quantity, number of prints'],
      ['Grain', 'direction of the media, across, along'],
      ['Tiles and panels', 'tile, panel, overlap, join, split, wallpaper', 'Panels'],
      ['Contour', 'contour cut, kiss cut, die line, spot colour, knife'],
      ['Edge to edge', 'borderless, overspray, no margins', 'without margins'],
      ['Separations', 'each ink alone, black only, spot colours'],
      ['Price of an hour late', 'late, lateness, penalty, due date', 'An hour late costs'],
      ['Keep rule', 'keep, shelf, delete, drop after printing', 'After printing'],
      ['Arrival rule', 'wait, prepare, go, automatic, what happens when a job arrives'],
      ['Hot folders', 'hot folder, watched folder, name pattern, subfolders, stop watching, pause'],
      ['Checks', 'preflight, resolution warning, bleed warning, thin lines'],
      ['Gap between pieces', 'gap, distance, spacing'],
    ]),
    ...of(printer, [
      ['Pool', 'pool, like printers, share', 'Pool of like printers'],
      ['Printable width and margins', 'width, margin, left, right, media margin', 'Printable width'],
      ['Overspray', 'edge to edge, borderless, over the edges', 'Over each edge'],
      ['Free-hang length', 'free-hang, hang, floor, take-up'],
      ['Take-up', 'take up, winding, rewinder, tension bar'],
      ['Basket or stacker', 'basket, stacker, catch, collects', 'Basket or stacker holds'],
      ['Print modes and profiles', 'mode, passes, ICC profile, resolution', 'Print modes'],
      ['Ink channels', 'ink, inks, colour, tank, price per ml, idle limit, white', 'Ink channels, in order'],
      ['Speeds and machine constants', 'speed, start-up, feed, stroke, trailer, back-feed', 'Speeds and times'],
      ['Change-over times', 'change over, stock change, set-up time', 'Cost and change-over'],
      ['Rate of the machine', 'cost, price per hour, rate, money', 'Cost of an hour'],
      ['Finishing', 'cutter, contour cutter, perforate, knife', 'Finishing and what comes out'],
      ['May print with nobody there', 'unattended, lights out, night, alone', 'May print unattended'],
    ]),
    ...of(stock, [
      ['Stocks', 'media, substrate, material, width, thickness, price, core', 'Name of the stock'],
      ['Modes that suit a stock', 'suits, allowed modes, which printer', 'Suits'],
    ]),
    ...of(floor, [
      ['Heads and nozzles', 'nozzle, nozzle check, purge, clean, clogged, idle, due for exercise, head', 'Ink left'],
      ['Ink left', 'ink, tanks, level, low'],
      ['Load media', 'load, roll, spool, source, take out, unload', 'Load another spool'],
      ['Pause, go on or cancel a run', 'pause, stop, resume, go on, cancel, abort', 'Now'],
      ['Move a run to another printer', 'elsewhere, fit list, reroute, move', 'Next'],
      ['Fixed start', 'start at, not before, timed, later', 'Next'],
      ['Turn the media for a back', 'front, back, two sides, duplex, confirm', 'Next'],
      ['Empty the basket', 'emptied, basket, stacker, full', 'Loaded'],
    ]),
    ...of('/floor', [
      ['Next hands', 'what to do, load, confirm, fault, alert, urgent'],
      ['Propose an order', 'order of the line, sequence, sort, fewer change-overs'],
    ]),
    ...of('/intake', [
      ['Bring files in', 'upload, drop, add files, import', 'Into queue'],
      ['Change many tickets', 'bulk, several, all chosen', 'Choose all that are shown'],
      ['Saved views and columns', 'view, columns, filter, group', 'Saved views'],
      ['Worksheet of codes', 'bar code, QR code, labels, scan', 'Choose all that are shown'],
    ]),
    ...of('/bench', [
      ['Nest', 'nesting, lay out, pack, waste, shortest', 'Nest again'],
      ['Contours, sheets and quarter turns', 'by contour, on sheets, rotation, locked pieces', 'Lay out'],
      ['Marks', 'crop marks, registration marks, slug line, trace code, labels, exercise strip, bar code'],
      ['Two sides', 'front, back, duplex, show-through', 'Sides'],
      ['Segments', 'segment, cut into runs, free-hang', 'Lay out'],
      ['Step and repeat', 'step, repeat, rows, pattern', 'Lay out'],
      ['Take as', 'export, PDF, DXF, SVG, cuts, job sheet, picture'],
      ['What a run costs', 'cost, money, price, shares, job cost', 'Figures'],
    ]),
    ...of('/rota', [
      ['Timers', 'timer, schedule, recurring, every day, by itself, automatic purge'],
      ['Propose timers', 'proposal, advice, clogs, how often, idle limit'],
      ['Purges', 'purge sheet, purge, white, exercise, fresh ink'],
      ['Rota calendar', 'ics, iCalendar, calendar feed, export', 'Calendar (.ics)'],
    ]),
    ...of('/rota/away', [
      ['Away plan', 'leave, overnight, weekend, unattended, tonight, odds, before you go, arm, send the list'],
      ['Propose the night', 'best plan, what to print overnight, promise, worth'],
    ]),
    ...of('/setup?messages=', [
      ['Messages', 'told when it goes wrong, notify, alert, escalation, second person', 'Who is told of what'],
      ['Mail server', 'SMTP, e-mail, send mail'],
      ['Webhooks', 'program that is told, signature, secret', 'Programs'],
    ]),
    ...of('/rota?timer=new', [
      ['New timer', 'make a timer, schedule a purge, nozzle check, head clean, stir white, release a run', 'Does'],
      ['Missed care', 'missed, catch up, server was off', 'Missed while off'],
      ['Slack of a timer', 'latest start, may begin later', 'May begin later by'],
    ]),
    ...of('/rota?design=new', [['Design a purge', 'purge designer, density, level, channel, purge sheet', 'Density']]),
    ...of('/heads', [['Heads', 'nozzle, nozzles, nozzle check, missing, clogged, streak, banding, can it print']]),
    ...of(`/heads?printer=${printerId ?? ''}`, [
      ['Read a check plot', 'photo, scan, picture of the plot, tap, weak, crooked', 'Read another plot'],
      ['What to do for a head', 'advice, clean, deep clean, service, ladder', 'Fit for'],
      ['Clogs by idle hours', 'survival curve, idle, clog rate'],
      ['Ink spent on care', 'ink per month, purge ink, cost of care'],
      ['Feed check', 'feed, advance, tension, banding lines, bars', 'Print a feed check'],
    ]),
    ...of('/pace', [
      [
        'Pace',
        'throughput, statistics, report, OEE, utilisation, efficiency, square metres per hour, waste, cost, lateness',
        'Side by side',
      ],
      ['Ink by channel', 'ink used, magenta, cleans, purges, ink cost', 'Side by side'],
      ['Where media went', 'waste, scrap, lead, trail, stub, spoiled, causes'],
      ['Figure that is drawn', 'chart, measure, compare, over time'],
      [
        'Story of a piece, job, run or spool',
        'history, trace, what happened to, who, when: type story and its name or code',
        'Side by side',
      ],
    ]),
    ...of('/pace/what-if', [
      ['What if', 'simulate, what would it save, other settings, carriage span, passes, compare', 'Carriage over'],
      ['One printer more or less', 'what if, buy a printer, another machine, capacity, without', 'Who prints what'],
      ['What collecting jobs would save', 'what if, batch, batching, gather, wait for like jobs', 'Collected for'],
      ['What another rhythm of purges would come to', 'what if, purge less often, clogs', 'Purges every'],
    ]),
    ...of('/media', [
      ['Receive a spool', 'new roll, delivery, arrived, stock in, scan the carton, article number', 'Receive media'],
      ['To order', 'order media, running low, reorder, forecast, days left'],
      ['Count the rack', 'stock-taking, inventory, stocktake, differences', 'Count'],
      ['Which spool', 'stub, offcut, remainder, part roll, cutting stock, assign rolls', 'Which spool for which run'],
    ]),
    ...of(`/media?spool=${spoolId ?? ''}`, [
      ['Correct what is left', 'measure, ledger, correction, length'],
      ['Offcuts', 'offcut, remainder, cut off a piece', 'Cut an offcut'],
    ]),
    ...of('/setup?people=', [
      ['Roles', 'who may do what, permissions, rights, viewer, operator, coordinator, owner', 'Who works here'],
      ['Have people sign in', 'login, log in, password, users, accounts', 'Sign-in'],
      ['Address for messages', 'mail, quiet hours, no message at night, hours of a person', 'Who works here'],
    ]),
    ...of('/me', [
      ['Lengths in', 'units, mm, inch, feet, metric'],
      ['Light or dark', 'theme, night, dark mode', 'Look'],
      ['Sound when a printer stops', 'alarm, notification, bell', 'What calls you'],
    ]),
    ...of(`/shelf?job=${keptId ?? ''}`, [
      ['Print again', 'reprint, again, copies, repeat order'],
      ['Spoiled pieces', 'spoiled, waste, ruined, reprint some', 'Some pieces again'],
    ]),
  ];
}
