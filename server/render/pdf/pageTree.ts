import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  PDFPageLeaf,
  PDFPageTree,
  PDFRef,
} from '@cantoo/pdf-lib';

const name = (text: string): PDFName => PDFName.of(text);
/** What a page takes over from the nodes above it. */
const INHERITED = ['Resources', 'MediaBox', 'CropBox', 'Rotate'] as const;
/** Deeper than this is no tree that a program writes. */
const DEEPEST = 100;

interface Leaf {
  readonly ref: PDFRef;
  readonly dict: PDFDict;
  readonly inherited: ReadonlyMap<string, PDFObject>;
}

/**
 * Mends a list of pages that other readers can follow and ours can't: nodes or pages without their type, a wrong count, a
 * page list that holds itself or nothing, or none at all. Pages that no list names any more are taken in the order of their
 * numbers.
 * @param document is changed where its list was broken
 * @returns whether it was
 */
export function mendPageTree(document: PDFDocument): boolean {
  const { context, catalog } = document;
  const walk = new TreeWalk(document);
  walk.node(catalog.get(name('Pages')), new Map(), 0);
  if (walk.sound && walk.leaves.length > 0) return false;
  const leaves = walk.leaves.length > 0 ? walk.leaves : strays(document);
  const kids = context.obj([]);
  const root = PDFPageTree.withContext(context);
  const rootRef = context.register(root);
  for (const { ref, dict, inherited } of leaves) {
    const leaf = PDFPageLeaf.fromMapWithContext(new Map(dict.entries()), context, false);
    for (const [key, value] of inherited) if (leaf.get(name(key)) === undefined) leaf.set(name(key), value);
    leaf.set(name('Type'), name('Page'));
    leaf.set(name('Parent'), rootRef);
    context.assign(ref, leaf);
    kids.push(ref);
  }
  root.set(name('Kids'), kids);
  root.set(name('Count'), PDFNumber.of(leaves.length));
  catalog.set(name('Pages'), rootRef);
  return true;
}

class TreeWalk {
  readonly leaves: Leaf[] = [];
  /** Nothing had to be guessed: the list is left as it is. */
  sound = true;
  private readonly seen = new Set<PDFDict>();

  constructor(private readonly document: PDFDocument) {}

  node(value: PDFObject | undefined, above: ReadonlyMap<string, PDFObject>, depth: number): number {
    const { context } = this.document;
    const dict = value instanceof PDFRef ? context.lookup(value) : value;
    if (!(dict instanceof PDFDict) || this.seen.has(dict) || depth > DEEPEST) return this.broken();
    this.seen.add(dict);
    const inherited = new Map(above);
    for (const key of INHERITED) {
      const own = dict.get(name(key));
      if (own !== undefined) inherited.set(key, own);
    }
    const kids = dict.lookup(name('Kids'));
    if (!(kids instanceof PDFArray)) return this.leaf(value, dict, inherited, depth);
    if (!(dict instanceof PDFPageTree)) this.broken();
    let count = 0;
    for (const kid of kids.asArray()) count += this.node(kid, inherited, depth + 1);
    const said = dict.lookup(name('Count'));
    if (!(said instanceof PDFNumber) || said.asNumber() !== count) this.broken();
    return count;
  }

  private leaf(
    value: PDFObject | undefined,
    dict: PDFDict,
    inherited: ReadonlyMap<string, PDFObject>,
    depth: number,
  ): number {
    // A list of pages without pages is no page.
    if (depth === 0 || dict instanceof PDFPageTree) return this.broken();
    if (!(dict instanceof PDFPageLeaf)) this.broken();
    const ref = value instanceof PDFRef ? value : this.document.context.register(dict);
    if (!(value instanceof PDFRef)) this.broken();
    this.leaves.push({ ref, dict, inherited });
    return 1;
  }

  private broken(): number {
    this.sound = false;
    return 0;
  }
}

/** Pages that lie in the file without a list that names them. */
function strays({ context }: PDFDocument): Leaf[] {
  return context
    .enumerateIndirectObjects()
    .flatMap(([ref, dict]): Leaf[] =>
      dict instanceof PDFDict && dict.get(name('Type')) === name('Page') ? [{ ref, dict, inherited: new Map() }] : [],
    )
    .sort((a, b) => a.ref.objectNumber - b.ref.objectNumber);
}
