import { chakra } from "@chakra-ui/react";

const FRACTION = /([¼½¾⅓⅔⅕⅖⅗⅘⅙⅚⅛⅜⅝⅞])/;

/** A figure whose fractions are drawn larger than its digits: their own digits are half as tall as the others'. */
export function Fractions({ children }: { children: string }) {
  const parts = children.split(FRACTION);
  if (parts.length === 1) return <>{children}</>;
  return (
    <>
      {parts.map((part, i) =>
        i % 2 === 1 ? (
          <chakra.span key={i} fontSize="1.25em" lineHeight="0" verticalAlign="-0.05em">
            {part}
          </chakra.span>
        ) : (
          part
        ),
      )}
    </>
  );
}
