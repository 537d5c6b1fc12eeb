import { outlook } from './outlook.ts';

const ASKED = { leftMm: 60_000, queuedMm: 0, usedMm: 125_000, openDays: 25, aheadDays: 10 };

test('days left at the pace of the open days, after what is queued', () => {
  expect(outlook(ASKED)).toEqual({ perDayMm: 5000, daysLeft: 12, order: false });
  expect(outlook({ ...ASKED, queuedMm: 15_000 })).toEqual({ perDayMm: 5000, daysLeft: 9, order: true });
  expect(outlook({ ...ASKED, queuedMm: 70_000 })).toEqual({ perDayMm: 5000, daysLeft: 0, order: true });
});

test('what nobody uses lasts; unless more of it is queued than there is', () => {
  expect(outlook({ ...ASKED, usedMm: 0 })).toEqual({ perDayMm: 0, daysLeft: null, order: false });
  expect(outlook({ ...ASKED, usedMm: 0, queuedMm: 60_001 })).toEqual({ perDayMm: 0, daysLeft: 0, order: true });
  expect(outlook({ ...ASKED, openDays: 0 }).daysLeft).toBeNull();
});
