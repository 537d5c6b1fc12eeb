import { Type, type Static } from 'typebox';

/** A profile by which modes of printers print. */
export const ProfileView = Type.Object({
  name: Type.String(),
  /** Such as `CMYK` or `6CLR`. */
  space: Type.String(),
  channels: Type.Integer({ minimum: 1 }),
  bytes: Type.Integer({ minimum: 1 }),
  /** Another one, which can be put back. */
  hasReplaced: Type.Boolean(),
  /** Modes that ask for it, as people read them. */
  modes: Type.Array(Type.String()),
});
export type ProfileView = Static<typeof ProfileView>;
