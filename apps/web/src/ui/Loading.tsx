/** Stands in place of a screen whose script is on its way; it shows itself only where that takes long enough to be noticed. */
export const Loading = () => (
  <p
    role="status"
    className="grid h-full place-items-center text-hush opacity-0 [animation:appear_200ms_ease-out_400ms_forwards]"
  >
    Loading …
  </p>
);
