/** Name of a strand or a mask, kept when it is left. */
export function NameField({
  id,
  why,
  onKeep,
}: {
  id: string;
  /** Why it cannot be changed; nothing where it can. */
  why?: string;
  onKeep: (name: string) => void;
}) {
  return (
    <label className="flex items-center justify-between gap-3">
      <span className="text-soft">name</span>
      <input
        key={id}
        defaultValue={id}
        maxLength={64}
        disabled={why !== undefined}
        title={why}
        onKeyDown={(event) => event.stopPropagation()}
        onBlur={(event) => onKeep(event.target.value.trim())}
        className="h-7 w-40 rounded-md border border-edge bg-pit px-2 disabled:text-hush"
      />
    </label>
  );
}
