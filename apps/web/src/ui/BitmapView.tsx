import { useRef, useState } from 'react';
import { useKeyedEffect } from './use-keyed-effect';

/** Shows a bitmap once it is there; what was shown before stays until then. */
export function BitmapView({
  load,
  stamp,
  className = '',
  label,
}: {
  load: () => Promise<ImageBitmap | undefined>;
  stamp: string;
  className?: string;
  label?: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [drawn, setDrawn] = useState(false);
  const loader = useRef(load);
  loader.current = load;
  // The stamp alone says when the picture is another.
  useKeyedEffect(() => {
    let over = false;
    loader.current().then(
      (bitmap) => {
        const element = canvas.current;
        if (over || !bitmap || !element) return;
        element.width = bitmap.width;
        element.height = bitmap.height;
        element.getContext('2d')?.drawImage(bitmap, 0, 0);
        bitmap.close();
        setDrawn(true);
      },
      // What cannot be drawn leaves its place empty; the screen that opens it tells why.
      () => {
        if (!over) setDrawn(false);
      },
    );
    return () => {
      over = true;
    };
  }, [stamp]);
  return (
    <canvas
      ref={canvas}
      data-drawn={drawn}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      className={`transition-opacity duration-300 ${drawn ? 'opacity-100' : 'opacity-0'} ${className}`}
    />
  );
}
