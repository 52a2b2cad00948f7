'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';

interface Code {
  svg: string;
  png: string;
}

/** Quiet zone of 4 modules (ISO/IEC 18004) and correction level M, which print and screens read well. */
async function draw(address: string): Promise<Code> {
  const { default: QrCode } = await import('qrcode');
  const options = { errorCorrectionLevel: 'M', margin: 4 } as const;
  const svg = await QrCode.toString(address, { ...options, type: 'svg' });
  return {
    svg: `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`,
    png: await QrCode.toDataURL(address, { ...options, width: 1024 }),
  };
}

/** The link as a QR code, to be kept as SVG or PNG. Drawn here: the address goes nowhere. */
export function QrButton({ address, name }: { address: string; name: string }) {
  const [code, setCode] = useState<Code | { problem: string }>();
  const open = (): void =>
    void draw(address).then(setCode, () =>
      setCode({
        problem: 'This address is too long for a QR code. Give the link an alias, or keep the page with Brivet.',
      }),
    );
  return (
    <>
      <Button variant="outlined" onClick={open}>
        QR code
      </Button>
      <Dialog open={code !== undefined} onClose={() => setCode(undefined)} aria-labelledby="qr-title">
        <DialogTitle id="qr-title" sx={{ fontSize: 17 }}>
          QR code of {name}
        </DialogTitle>
        <DialogContent>
          {code && 'problem' in code && <p className="note trouble">{code.problem}</p>}
          {code && 'svg' in code && (
            <div className="stack">
              <div
                role="img"
                aria-label={`QR code of ${address}`}
                style={{ width: 280, height: 280, background: `url("${code.svg}") center / contain` }}
              />
              <code style={{ maxWidth: 280 }}>{address}</code>
              <div className="actions">
                <Button variant="contained" href={code.svg} download={`${name}.svg`}>
                  Save SVG
                </Button>
                <Button variant="outlined" href={code.png} download={`${name}.png`}>
                  Save PNG
                </Button>
              </div>
            </div>
          )}
        </DialogContent>
      </Dialog>
    </>
  );
}
