import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { setPreferences, usePreferences } from '../../ui/preferences.ts';

/** What calls a person when a printer stops. */
export function CallChoices() {
  const { sound, notify } = usePreferences();
  return (
    <>
      <Checkbox
        text="Play a sound"
        value={sound}
        onChange={(on) => {
          setPreferences({ sound: on });
        }}
      />
      <Checkbox
        text="Show a notification of the desktop"
        value={notify}
        onChange={(on) => {
          void askToNotify(on);
        }}
      />
    </>
  );
}

/** The browser asks the person; without their word nothing is switched on. */
async function askToNotify(on: boolean): Promise<void> {
  if (!on || !('Notification' in window)) {
    setPreferences({ notify: false });
    return;
  }
  setPreferences({ notify: (await Notification.requestPermission()) === 'granted' });
}
