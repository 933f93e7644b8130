import { Button, type ButtonProps, chakra } from "@chakra-ui/react";
import { useRef } from "react";

/** What a file chooser offers as photographs; raw files have no media type of their own. */
export const PHOTOGRAPHS = "image/*,.dng,.heic,.heif,.tif,.tiff,.nef,.cr2,.cr3,.arw,.raf,.orf,.rw2,.pef";

/** A button that chooses one file; the same file may be chosen again. */
export function FileButton({
  label,
  accept,
  busy,
  onFile,
  children,
  size = "sm",
}: {
  label: string;
  accept: string;
  busy: boolean;
  onFile: (file: File) => void;
  children: string;
  size?: ButtonProps["size"];
}) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <chakra.input
        ref={picker}
        type="file"
        accept={accept}
        aria-label={label}
        position="absolute"
        w="1px"
        h="1px"
        opacity="0"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) onFile(file);
        }}
      />
      <Button variant="outline" size={size} loading={busy} onClick={() => picker.current?.click()}>
        {children}
      </Button>
    </>
  );
}
