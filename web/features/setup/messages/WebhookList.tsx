import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { WebhookView } from '../../../../contract/api/messages.ts';
import { CAUSE_KINDS } from '../../../../core/messages/messageRules.ts';
import { CopyText } from '../../../people/CopyText.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { TextInput } from '../../../ui/fields/TextInput.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';
import { KIND_TEXTS, withKind } from './messageDraft.ts';

interface HooksProps {
  readonly webhooks: readonly WebhookView[];
  /** As they were kept: one that is new brings its secret, once. */
  readonly told: readonly WebhookView[];
  readonly onChange: (webhooks: WebhookView[]) => void;
}

/** Programs that are told: each message is posted to their address, signed. */
export function WebhookList({ webhooks, told, onChange }: HooksProps) {
  const [url, setUrl] = useState('');
  const isTold = webhooks.some((hook) => hook.url === url);
  const isAddress = /^https?:\/\/\S+$/.test(url);
  const add = (): void => {
    onChange([...webhooks, { id: null, url, kinds: [...CAUSE_KINDS] }]);
    setUrl('');
  };
  return (
    <div className="flex flex-col gap-2">
      <p className="text-soft">
        A message is posted as JSON. Its header yellow-spool-signature is HMAC-SHA256, base64url, of the header
        yellow-spool-time, a line feed and the body.
      </p>
      {webhooks.map((hook) => {
        const secret = told.find(({ id }) => id !== null && id === hook.id)?.secret;
        return (
          <div key={hook.url} className="rounded-md border border-rule bg-card px-3 py-2">
            <div className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate font-semibold">{hook.url}</span>
              <IconButton
                label={`Tell ${hook.url} no more`}
                onClick={() => {
                  onChange(webhooks.filter((each) => each !== hook));
                }}
              >
                <X size={16} aria-hidden="true" />
              </IconButton>
            </div>
            <div className="my-1 flex flex-wrap gap-x-4 gap-y-1">
              {CAUSE_KINDS.map((kind) => (
                <Checkbox
                  key={kind}
                  text={KIND_TEXTS[kind]}
                  value={hook.kinds.includes(kind)}
                  onChange={(on) => {
                    onChange(
                      webhooks.map((each) =>
                        each === hook ? { ...each, kinds: withKind(each.kinds, kind, on) } : each,
                      ),
                    );
                  }}
                />
              ))}
            </div>
            {secret !== undefined && (
              <div>
                <p className="text-wait">Its secret. It is shown this once:</p>
                <CopyText label="Secret" text={secret} />
              </div>
            )}
          </div>
        );
      })}
      <span className="flex max-w-md gap-2">
        <TextInput label="Address of a program" value={url} placeholder="https://" atOnce onChange={setUrl} />
        <Button disabled={!isAddress || isTold} title={isTold ? 'It is told already' : undefined} onClick={add}>
          <Plus size={16} aria-hidden="true" /> Tell it
        </Button>
      </span>
    </div>
  );
}
