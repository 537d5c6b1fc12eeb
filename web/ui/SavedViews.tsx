import { Eye, X } from 'lucide-react';
import { FlyOut } from './FlyOut.tsx';
import { IconButton } from './IconButton.tsx';
import { NewName } from './fields/NewName.tsx';

interface SavedViewsProps {
  readonly names: readonly string[];
  /** Null: as it is at first. */
  readonly onShow: (name: string | null) => void;
  readonly onKeep: (name: string) => void;
  readonly onForget: (name: string) => void;
}

/** Ways to look at a page that this person has kept by name. */
export function SavedViews({ names, onShow, onKeep, onForget }: SavedViewsProps) {
  return (
    <FlyOut
      label="Saved views"
      title="Saved views"
      button={<Eye size={17} aria-hidden="true" />}
      buttonClass="inline-flex h-8 items-center gap-1.5 rounded-md px-2 text-tide hover:bg-rule/50"
      panelClass="max-h-[60vh] w-64 overflow-auto p-3"
    >
      {(close) => {
        const show = (name: string | null) => () => {
          onShow(name);
          close();
        };
        return (
          <div>
            <p className="mb-1 font-semibold">Views</p>
            <button
              type="button"
              className="block w-full rounded px-1 py-1 text-left hover:bg-rule/50"
              onClick={show(null)}
            >
              As it is at first
            </button>
            {names.map((name) => (
              <span key={name} className="flex items-center">
                <button
                  type="button"
                  className="min-w-0 flex-1 truncate rounded px-1 py-1 text-left hover:bg-rule/50"
                  onClick={show(name)}
                >
                  {name}
                </button>
                <IconButton
                  label={`Forget ${name}`}
                  onClick={() => {
                    onForget(name);
                  }}
                >
                  <X size={14} aria-hidden="true" />
                </IconButton>
              </span>
            ))}
            <div className="mt-2">
              <NewName
                // Kept: the next one has another name.
                key={names.length}
                label="Name of the view"
                placeholder="Keep this view as"
                most={60}
                action="Keep"
                main={false}
                focus={false}
                onName={onKeep}
              />
            </div>
          </div>
        );
      }}
    </FlyOut>
  );
}
