'use client';

import { useState } from 'react';

/**
 * A text field that looks like plain text until it is edited. Commits on Enter or blur; Escape reverts. The ends are
 * trimmed; `onCommit` gets changed text only, and empty text only where `mayBeEmpty`.
 */
export function TextField({
  label,
  value,
  maxLength,
  className,
  placeholder,
  mayBeEmpty = false,
  onCommit,
}: {
  label: string;
  value: string;
  maxLength: number;
  className: string;
  placeholder?: string;
  mayBeEmpty?: boolean;
  onCommit: (value: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      aria-label={label}
      className={`truncate rounded-sm ${className}`}
      maxLength={maxLength}
      placeholder={placeholder}
      value={typed ?? value}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        const wanted = typed?.trim();
        setTyped(null);
        if (wanted === undefined || wanted === value || (wanted === '' && !mayBeEmpty)) return;
        onCommit(wanted);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') {
          setTyped(null);
          const field = event.currentTarget;
          requestAnimationFrame(() => field.blur());
        }
      }}
    />
  );
}

/** The same for several lines; commits on blur or Ctrl Enter. */
export function TextArea({
  label,
  value,
  maxLength,
  className,
  placeholder,
  onCommit,
}: {
  label: string;
  value: string;
  maxLength: number;
  className: string;
  placeholder?: string;
  onCommit: (value: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <textarea
      aria-label={label}
      className={className}
      maxLength={maxLength}
      placeholder={placeholder}
      value={typed ?? value}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        if (typed !== null && typed !== value) onCommit(typed);
        setTyped(null);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) event.currentTarget.blur();
        if (event.key === 'Escape') setTyped(null);
      }}
    />
  );
}
