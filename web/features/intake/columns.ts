export const COLUMNS = 'grid-cols-[24px_52px_minmax(128px,2.2fr)_118px_52px_minmax(84px,1fr)_minmax(110px,1.6fr)_96px]';

export const ROW_PX = 52;
