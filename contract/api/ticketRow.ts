import { Type } from 'typebox';
import { PRIORITIES } from '../../core/ticket/ticket.ts';

const Text = (description: string) => Type.Optional(Type.Union([Type.String(), Type.Number()], { description }));

/** One row of an open ticket, as JSON. Lengths take any unit, fractions and sums: `1200 mm`, `11 7/8 in`, `3*18in+2mm`. */
export const TicketRow = Type.Object(
  {
    file: Type.Optional(
      Type.String({
        pattern: '^[^/\\\\]+$',
        description: 'Name of the file beside the ticket; without it the file that is called like the ticket',
      }),
    ),
    copies: Type.Optional(
      Type.Union([Type.Integer({ minimum: 1, maximum: 10_000 }), Type.String({ pattern: '^ *[0-9]{1,5} *$' })]),
    ),
    width: Text('Of the artwork upright; alone, the height follows in proportion'),
    height: Text('Of the artwork upright; alone, the width follows in proportion'),
    scale: Text('Per cent of the size it came in, or a scale like 1:10, instead of width and height'),
    turn: Type.Optional(Type.Enum(['0', '90', '180', '270', 'best', 0, 90, 180, 270])),
    mirror: Type.Optional(Type.Union([Type.Boolean(), Type.Enum(['yes', 'no', 'true', 'false', '1', '0', 'x', ''])])),
    bleed: Text('Wanted on all sides; drawn out of the artwork where the file has none'),
    stock: Type.Optional(Type.String({ description: 'Name or id of a stock of the shop' })),
    mode: Type.Optional(Type.String({ description: 'Name or id of a print mode of the printer' })),
    customer: Type.Optional(Type.String()),
    order: Text('Number of the order'),
    due: Type.Optional(
      Type.String({
        description: '2026-10-08, 8.10.2026 or 2026-10-08T14:00 in the zone of the shop, or an instant with its offset',
      }),
    ),
    priority: Type.Optional(Type.Enum([...PRIORITIES])),
    notes: Type.Optional(Type.String()),
  },
  { additionalProperties: false },
);

export const TicketFile = Type.Union([TicketRow, Type.Array(TicketRow, { minItems: 1, maxItems: 20_000 })], {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'A ticket beside files',
});
