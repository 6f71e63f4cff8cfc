import { renderToStaticMarkup } from 'react-dom/server'
import css from './build-sheet.css?raw'
import { SheetDocument, type SheetContent } from './sheet-document.tsx'

/**
 * A sheet as one file that needs nothing else: its own policy lets it load nothing, run nothing and send nothing. The styles
 * hold no sign that would be escaped.
 */
export const sheetFile = (content: SheetContent): string =>
  `<!doctype html>\n${renderToStaticMarkup(
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta
          httpEquiv="Content-Security-Policy"
          content="default-src 'none'; img-src data:; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'"
        />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta name="referrer" content="no-referrer" />
        <title>{content.title}</title>
        <style>{css}</style>
      </head>
      <body>
        <main>
          <SheetDocument {...content} />
        </main>
      </body>
    </html>,
  )}\n`
