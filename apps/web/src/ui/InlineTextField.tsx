/** A line that is typed where it stands, and kept when it is left. */
export function TypedInPlace({
  label,
  value,
  most,
  className,
  onKeep,
}: {
  label: string;
  value: string;
  /** Letters, at most. */
  most: number;
  className: string;
  onKeep: (value: string) => void;
}) {
  return (
    <input
      aria-label={label}
      placeholder={label}
      key={value}
      defaultValue={value}
      maxLength={most}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={({ target }) => target.value !== value && onKeep(target.value)}
      className={`h-7 truncate rounded-md border border-transparent bg-transparent px-2 hover:border-edge focus:border-lamp ${className}`}
    />
  );
}
