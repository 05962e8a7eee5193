/** Name of a strand or a mask, kept when it is left or Enter is pressed; an empty one is none, and the old one stays. */
export function NameField({ id, onKeep }: { id: string; onKeep: (name: string) => void }) {
  return (
    <label className="flex items-center justify-between gap-3">
      <span className="text-soft">name</span>
      <input
        key={id}
        defaultValue={id}
        maxLength={64}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') event.currentTarget.blur();
        }}
        onBlur={({ target }) => {
          const wanted = target.value.trim();
          if (wanted === '') target.value = id;
          else onKeep(wanted);
        }}
        className="h-7 w-40 rounded-md border border-edge bg-pit px-2"
      />
    </label>
  );
}
