/** Every limit against broken and hostile files, and every waiting time of ingest, in one place. */
export interface Limits {
  readonly fileBytes: number;
  readonly pages: number;
  /** Pixels of a picture; it is streamed, never decoded whole. */
  readonly pixels: number;
  /** Of a run that is drawn as one picture: held whole, 4 bytes each. */
  readonly runPicturePixels: number;
  /** An SVG is read whole. */
  readonly svgBytes: number;
  readonly svgElements: number;
  readonly xmlDepth: number;
  /** Of a ticket beside files: JDF, JSON or CSV. */
  readonly ticketBytes: number;
  readonly taskMs: number;
  readonly taskMemoryMb: number;
  /** Of files and packed pictures that a PDF holds while it is laid out; beside the memory of the task. */
  readonly layBytes: number;
  /** A file is looked at once it has not grown for so long. */
  readonly quietMs: number;
  /** A file that isn't whole is refused when it has not grown for so long. */
  readonly incompleteMs: number;
  /** Empty and unknown files are refused after so long. */
  readonly unknownMs: number;
  /** Of what was rendered for runs; the longest unused goes first. */
  readonly renderedBytes: number;
  /** Below so much room on the disk nothing new is taken, where Setup does not say otherwise. */
  readonly leastFreeBytes: number;
  /** Taken for pictures that don't say how big they are. */
  readonly assumedDpi: number;
}

/** Limits as they stand, unless the environment says otherwise. */
export function readLimits(env: Record<string, string | undefined>): Limits {
  return {
    fileBytes: 4 * 1024 ** 3,
    pages: 2000,
    pixels: 2_000_000_000,
    runPicturePixels: 120_000_000,
    svgBytes: 64 * 1024 ** 2,
    svgElements: 500_000,
    xmlDepth: 256,
    ticketBytes: 16 * 1024 ** 2,
    taskMs: 60_000,
    taskMemoryMb: 1024,
    layBytes: 1.5 * 1024 ** 3,
    quietMs: 350,
    incompleteMs: Number(env.YELLOW_SPOOL_INCOMPLETE_MS ?? 180_000),
    unknownMs: Number(env.YELLOW_SPOOL_UNKNOWN_MS ?? 3_000),
    renderedBytes: Number(env.YELLOW_SPOOL_RENDERED_BYTES ?? 20 * 1024 ** 3),
    leastFreeBytes: Number(env.YELLOW_SPOOL_LEAST_FREE_BYTES ?? 500 * 1024 ** 2),
    assumedDpi: 150,
  };
}
