import type { SaxesParser } from 'saxes';
import { create } from 'xmlbuilder2';
import type { TicketValues } from '../../core/ticket/ticket.ts';

const MM_PER_PT = 25.4 / 72;
const NAMESPACE = 'http://www.CIP4.org/JDFSchema_1_1';
/** JDF counts urgency from 0 to 100; 50 is nothing special. */
const PRIORITY: readonly (readonly [atLeast: number, name: TicketValues['priority'], written: number])[] = [
  [90, 'rush', 100],
  [65, 'high', 75],
  [35, 'normal', 50],
  [0, 'low', 20],
];

/**
 * The part of JDF 1.x (CIP4) that a print shop's ticket needs, as a row: FileSpec/@URL, Component or Media/@Dimensions and
 * @Amount, CustomerInfo, NodeInfo/@LastEnd and @JobPriority, Media/@DescriptiveName, Comment. A document type is refused.
 * @returns undefined where it is no JDF
 */
export function jdfRow(text: string, parser: SaxesParser, mostDepth: number): Record<string, string> | undefined {
  const row: Record<string, string> = {};
  const path: string[] = [];
  let isJdf: boolean | undefined;
  let comment = '';
  parser.on('doctype', () => {
    throw new Error('a document type is not allowed in a ticket');
  });
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ name, attributes }) => {
    const local = name.replace(/^.*:/, '');
    isJdf ??= local === 'JDF';
    path.push(local);
    if (path.length > mostDepth) throw new Error(`nested more than ${String(mostDepth)} deep`);
    take(row, local, attributes);
  });
  parser.on('text', (content) => {
    if (path[path.length - 1] === 'Comment') comment += content;
  });
  parser.on('closetag', () => {
    path.pop();
  });
  parser.write(text).close();
  if (comment.trim() !== '') row.notes = comment.trim();
  return isJdf === true ? row : undefined;
}

/** Takes over what one element of a JDF says. The first that names a field counts. */
function take(row: Record<string, string>, element: string, a: Readonly<Record<string, string>>): void {
  const set = (field: string, value: string | undefined): void => {
    if (value !== undefined && value.trim() !== '') row[field] ??= value.trim();
  };
  switch (element) {
    case 'JDF':
      set('order', a.JobID);
      break;
    case 'FileSpec':
      set('file', fileName(a.URL));
      break;
    case 'Component': {
      set('copies', a.Amount);
      const [w, h] = (a.Dimensions ?? '').trim().split(/\s+/).map(Number);
      if (w !== undefined && h !== undefined && w > 0 && h > 0) {
        set('width', `${String(w * MM_PER_PT)} mm`);
        set('height', `${String(h * MM_PER_PT)} mm`);
      }
      break;
    }
    case 'ComponentLink':
      set('copies', a.Amount);
      break;
    case 'Media':
      set('stock', a.DescriptiveName);
      break;
    case 'CustomerInfo':
      set('customer', a.CustomerJobName);
      if (a.CustomerOrderID !== undefined) row.order = a.CustomerOrderID;
      break;
    case 'Company':
      if (a.OrganizationName !== undefined) row.customer = a.OrganizationName;
      break;
    case 'NodeInfo': {
      set('due', a.LastEnd);
      const priority = Number(a.JobPriority ?? NaN);
      if (Number.isFinite(priority)) set('priority', PRIORITY.find(([atLeast]) => priority >= atLeast)?.[1]);
      break;
    }
  }
}

/** The last part of a URL, without its folder: files lie beside their ticket. */
function fileName(url: string | undefined): string | undefined {
  const last = url?.split(/[\\/]/).pop();
  if (last === undefined) return undefined;
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}

export interface JdfJob {
  readonly id: string;
  readonly sourceName: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly stockName: string;
  readonly values: TicketValues;
}

/** Writes a job's ticket as the same subset of JDF. */
export function writeJdf(job: JdfJob): string {
  const { values } = job;
  const pt = (mm: number): string => (mm / MM_PER_PT).toFixed(4);
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('JDF', {
    xmlns: NAMESPACE,
    ID: job.id,
    Type: 'Product',
    Status: 'Waiting',
    Version: '1.4',
    JobID: values.orderNo ?? job.id,
    DescriptiveName: job.sourceName,
  });
  const pool = root.ele('ResourcePool');
  const parameter = { Class: 'Parameter', Status: 'Available' };
  const customer = pool.ele('CustomerInfo', {
    ID: 'Customer',
    ...parameter,
    ...(values.orderNo === null ? {} : { CustomerOrderID: values.orderNo }),
  });
  if (values.customer !== null)
    customer.ele('Contact', { ContactTypes: 'Customer' }).ele('Company', { OrganizationName: values.customer });
  pool.ele('NodeInfo', {
    ID: 'Node',
    ...parameter,
    ...(values.dueMs === null ? {} : { LastEnd: new Date(values.dueMs).toISOString() }),
    JobPriority: String(PRIORITY.find(([, name]) => name === values.priority)?.[2] ?? 50),
  });
  pool.ele('Media', { ID: 'Media', Class: 'Consumable', Status: 'Available', DescriptiveName: job.stockName });
  pool
    .ele('RunList', { ID: 'Files', ...parameter })
    .ele('LayoutElement')
    .ele('FileSpec', { URL: encodeURIComponent(job.sourceName) });
  pool.ele('Component', {
    ID: 'Print',
    Class: 'Quantity',
    Status: 'Unavailable',
    ComponentType: 'FinalProduct',
    Dimensions: `${pt(job.widthMm)} ${pt(job.heightMm)} 0`,
    Amount: String(values.copies),
  });
  root.ele('ResourceLinkPool').ele('ComponentLink', { rRef: 'Print', Usage: 'Output', Amount: String(values.copies) });
  if (values.notes !== null) root.ele('Comment', { Name: 'Notes' }).txt(values.notes);
  return root.end({ prettyPrint: true });
}
