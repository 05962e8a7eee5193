/** The sign of the server: an owl looking through the warp. */
export function Owl({ size }: { size: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true" fill="none">
      <path
        d="M5 6v20M10.5 6v20M16 15v11M21.5 6v20M27 6v20"
        stroke="var(--color-lamp)"
        strokeWidth="1.8"
        strokeLinecap="round"
        opacity="0.75"
      />
      <circle cx="10.5" cy="13" r="5" fill="var(--color-room)" stroke="var(--color-text)" strokeWidth="1.8" />
      <circle cx="21.5" cy="13" r="5" fill="var(--color-room)" stroke="var(--color-text)" strokeWidth="1.8" />
      <circle cx="10.5" cy="13" r="1.9" fill="var(--color-lamp)" />
      <circle cx="21.5" cy="13" r="1.9" fill="var(--color-lamp)" />
      <path d="M14.4 17.5 16 20.5l1.6-3Z" fill="var(--color-lamp)" />
    </svg>
  );
}
