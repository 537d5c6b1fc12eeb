import {
  Archive,
  CalendarClock,
  Disc3,
  Gauge,
  Grip,
  Inbox,
  LayoutPanelLeft,
  Rows3,
  SlidersHorizontal,
  type LucideIcon,
} from 'lucide-react';

/** The views that exist, in the order of the rail; `g` then the key goes there. */
export const VIEWS: readonly {
  readonly path: string;
  readonly name: string;
  readonly key: string;
  readonly icon: LucideIcon;
  readonly question: string;
}[] = [
  { path: '/floor', name: 'Floor', key: 'f', icon: Rows3, question: 'What is each printer doing, and until when?' },
  { path: '/intake', name: 'Intake', key: 'i', icon: Inbox, question: 'What has come in, and is it sound?' },
  { path: '/bench', name: 'Bench', key: 'b', icon: LayoutPanelLeft, question: 'How does it lie on the media?' },
  { path: '/rota', name: 'Rota', key: 'r', icon: CalendarClock, question: 'What will happen by itself?' },
  { path: '/heads', name: 'Heads', key: 'h', icon: Grip, question: 'Can each printer print well right now?' },
  { path: '/media', name: 'Media', key: 'm', icon: Disc3, question: 'What do we have, where, how long does it last?' },
  { path: '/pace', name: 'Pace', key: 'p', icon: Gauge, question: 'How well are we doing, and what would do better?' },
  { path: '/shelf', name: 'Shelf', key: 's', icon: Archive, question: 'Print that again' },
  {
    path: '/setup',
    name: 'Setup',
    key: 'u',
    icon: SlidersHorizontal,
    question: 'What are printers, stocks, queues and hours like?',
  },
];
