import { Check, Copy } from 'lucide-react';
import { useState } from 'react';
import { Button } from '../ui/Button.tsx';

/** Something that is shown once and handed on: to be read, and to be copied. */
export function CopyText({ label, text }: { readonly label: string; readonly text: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <div className="flex items-center gap-2">
      <output aria-label={label} className="min-w-0 flex-1 font-mono break-all select-all">
        {text}
      </output>
      {/* Without TLS browsers have no clipboard for pages of other machines. */}
      {'clipboard' in navigator && (
        <Button
          onClick={() => {
            void navigator.clipboard.writeText(text).then(() => {
              setCopied(true);
            });
          }}
        >
          {copied ? <Check size={15} aria-hidden="true" /> : <Copy size={15} aria-hidden="true" />}
          {copied ? 'Copied' : 'Copy'}
        </Button>
      )}
    </div>
  );
}
