/** Where the mail stand-in of the demo listens. @returns undefined: it does not run */
export async function mailStandInPort(standInBase: string): Promise<number | undefined> {
  if (standInBase === '') return undefined;
  const answer = await fetch(`${standInBase}/mail/port`, { signal: AbortSignal.timeout(ASK_MS) }).catch(
    () => undefined,
  );
  if (answer?.ok !== true) return undefined;
  const { port } = (await answer.json()) as { port: number };
  return port > 0 ? port : undefined;
}

const ASK_MS = 5000;
