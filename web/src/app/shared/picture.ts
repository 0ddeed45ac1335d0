/** Drawings that can be taken along: as they are on the page, without its style sheet. */
import { must } from '@glue-trace/core/browser';

/** The theme's colours as they are, so that a saved drawing needs no style sheet. */
export function coloursOfTheme() {
  const style = getComputedStyle(document.documentElement);
  const token = (name: string): string => style.getPropertyValue(name).trim();
  return {
    ...{ ground: token('--paper'), sheet: token('--surface'), ink: token('--ink'), dim: token('--ink2') },
    ...{ line: token('--line'), amber: token('--amber'), picked: token('--amber-bg') },
    ...{ brick: token('--brick'), brickGround: token('--brick-bg') },
    ...{ ochre: token('--ochre'), ochreGround: token('--ochre-bg') },
    ...{ moss: token('--moss'), mossGround: token('--moss-bg') },
  };
}

/** @param name of the file, without its ending */
export function saveSvg(svg: SVGSVGElement, name: string): void {
  save(new Blob([textOf(svg)], { type: 'image/svg+xml' }), `${fileName(name)}.svg`);
}

export function savePng(svg: SVGSVGElement, name: string): void {
  const image = new Image();
  const { width, height } = svg.viewBox.baseVal;
  image.onload = () => {
    // Twice the size, so that it is sharp on paper.
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [width * 2, height * 2];
    must(canvas.getContext('2d')).drawImage(image, 0, 0, canvas.width, canvas.height);
    canvas.toBlob((blob) => blob && save(blob, `${fileName(name)}.png`), 'image/png');
  };
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(textOf(svg))}`;
}

const fileName = (name: string): string => name.replace(/[^\w-]+/g, '-');

function textOf(drawn: SVGSVGElement): string {
  const svg = drawn.cloneNode(true) as SVGSVGElement;
  for (const element of [svg, ...svg.querySelectorAll('*')]) {
    for (const name of element.getAttributeNames())
      if (/^(_ng|ng-|tabindex|role|class)/.test(name)) element.removeAttribute(name);
  }
  return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(svg).replace(/<!--[^]*?-->/g, '')}\n`;
}

/** Offers a file to be kept. @param name with its ending */
export function save(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
