import { Section } from '../Rows';

export function InvertEditor() {
  return (
    <Section>
      <p className="text-[12.5px] text-hush">There is nothing to set: each value becomes one less itself.</p>
    </Section>
  );
}
