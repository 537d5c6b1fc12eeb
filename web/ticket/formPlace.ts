import type { CutLine } from '../../core/contour/contourRule.ts';
import type { Printer, Stock } from '../api/data.ts';
import type { TicketModel } from './model.ts';

export interface FormPlace {
  readonly printer: Printer | undefined;
  readonly stocks: readonly Stock[];
  readonly zone: string;
  /** Spot colours that can be had alone. */
  readonly spots: readonly string[];
  /** Lines of the file that it can be cut along. */
  readonly cutLines: readonly Pick<CutLine, 'from' | 'name'>[];
  /** Where the job is seen in print; left out: it is no single job. */
  readonly colourPath?: string;
  /** Settings of arrival only make sense before a job is there. */
  readonly arriving: boolean;
}

export interface FormProps {
  readonly model: TicketModel;
  readonly place: FormPlace;
}
