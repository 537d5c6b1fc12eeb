import { raw } from 'bwip-js/browser';
import { type CodeModules, encoderOrder, modulesOf } from '../../core/layout/codeShape.ts';
import type { CodeKind } from '../../core/layout/markSettings.ts';

/** Modules of a trace code. */
export function encodeCode(kind: CodeKind, text: string): CodeModules {
  const [encoded] = raw(encoderOrder(kind, text));
  if (!encoded) throw new Error(`no ${kind} of ${text}`);
  return modulesOf(encoded);
}
