import { NAME_PARTS, USUAL_NAME } from '@owl-loom/recipe/file-name';
import { Chips } from '../../ui/Chips';
import { Choice } from '../../ui/controls';
import { SliderField } from '../../ui/SliderField';
import { TextField } from '../../ui/TextField';
import type { Said } from './files';
import { FILE_FORMATS } from '@owl-loom/api/exports';
import { FORMATS, type Settings } from './settings';

/** In which forms a picture is written, what is told with it, and what is written beside it. */
export function FormFields({
  settings,
  put,
  stretched,
  said,
  setSaid,
  beside,
  besides,
  setBeside,
}: {
  settings: Settings;
  put: (change: Partial<Settings>) => void;
  stretched: boolean;
  said: Said;
  setSaid: (said: Said) => void;
  beside: readonly string[];
  besides: readonly { value: string; label: string }[];
  setBeside: (beside: string[]) => void;
}) {
  return (
    <div className="space-y-3.5">
      <Chips
        label="Formats"
        chosen={settings.formats}
        options={FILE_FORMATS.map((value) => ({ value, label: FORMATS[value].label, hint: FORMATS[value].says }))}
        onChange={(formats) => put({ formats })}
      />
      <Depths settings={settings} put={put} />
      {(settings.formats.includes('jpg') || settings.formats.includes('html')) && (
        <SliderField
          label="quality"
          value={settings.quality}
          min={40}
          max={100}
          step={1}
          digits={3}
          onChange={(value) => put({ quality: Math.round(Math.min(100, Math.max(1, value))) })}
        />
      )}
      <Choice
        label="profile"
        value={!stretched && settings.profile === 'p3' ? 'srgb' : settings.profile}
        options={
          stretched
            ? [
                { value: 'srgb', label: 'sRGB' },
                { value: 'p3', label: 'Display P3' },
                { value: 'linear', label: 'linear', hint: 'Converts to linear light with a linear profile' },
              ]
            : [
                { value: 'srgb', label: 'none' },
                {
                  value: 'linear',
                  label: 'linear',
                  hint: 'Keeps the values and adds a linear profile',
                },
              ]
        }
        onChange={(profile) => put({ profile })}
      />
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="title"
          value={said.title}
          maxLength={500}
          onChange={(event) => setSaid({ ...said, title: event.target.value })}
        />
        <TextField
          label="File name"
          value={settings.called}
          maxLength={200}
          placeholder={USUAL_NAME}
          title={NAME_PARTS.map((name) => `{${name}}`).join(' ')}
          onChange={(event) => put({ called: event.target.value })}
        />
      </div>
      <TextField
        label="credits"
        value={settings.credits}
        maxLength={500}
        placeholder="Photographer, processing"
        onChange={(event) => put({ credits: event.target.value })}
      />
      <label className="block">
        <span className="mb-1 block text-soft">Caption</span>
        <textarea
          rows={2}
          maxLength={5000}
          value={said.caption}
          onChange={(event) => setSaid({ ...said, caption: event.target.value })}
          onKeyDown={(event) => event.stopPropagation()}
          className="w-full resize-y rounded-md border border-edge bg-pit px-3 py-1.5 focus:border-lamp"
        />
      </label>
      {(settings.formats.includes('fits') || beside.length > 0) && (
        <Choice
          label="FITS header"
          value={settings.impersonal ? 'without' : 'whole'}
          options={[
            { value: 'whole', label: 'Complete' },
            {
              value: 'without',
              label: 'Without who and where',
              hint: 'Leaves out the observer, the place, and paths on your disk.',
            },
          ]}
          onChange={(value) => put({ impersonal: value === 'without' })}
        />
      )}
      {besides.length > 0 && (
        <Chips label="Also export strands and masks" chosen={beside} options={besides} onChange={setBeside} />
      )}
    </div>
  );
}

/** Bits a colour of the forms that leave a choice. */
function Depths({ settings, put }: { settings: Settings; put: (change: Partial<Settings>) => void }) {
  return (['tif', 'png'] as const)
    .filter((format) => settings.formats.includes(format))
    .map((format) => (
      <Choice
        key={format}
        label={`${FORMATS[format].label} bit depth`}
        value={String(settings.depths[format])}
        options={FORMATS[format].depths.map((depth) => ({
          value: String(depth),
          label: depth === 32 ? '32-bit float' : String(depth),
        }))}
        onChange={(value) => put({ depths: { ...settings.depths, [format]: Number(value) } as Settings['depths'] })}
      />
    ));
}
