import { Section } from '../fields/Rows';

export function InvertEditor() {
  return (
    <Section>
      <p className="text-[12.5px] text-hush">No settings: x becomes 1 − x.</p>
    </Section>
  );
}
