import * as bwip from 'bwip-js/browser';
import { type CodeModules, encoderOrder, modulesOf } from '../../core/layout/marks/codeShape.ts';
import type { CodeKind } from '../../core/layout/marks/markSettings.ts';

// As an ES module the package gives this name to a bar code; the function is in its default export.
const { raw } = (bwip as { readonly default?: typeof bwip }).default ?? bwip;

/** Modules of a trace code; undefined: no such code can say this text. */
export function encodeCode(kind: CodeKind, text: string): CodeModules | undefined {
  try {
    const [encoded] = raw(encoderOrder(kind, text));
    return encoded && modulesOf(encoded);
  } catch {
    return undefined;
  }
}
