import { CloseButton, Dialog, Portal } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** A dialog in the product's own face. Without `onClose` it goes only when what it asks for is done. */
export function Sheet({
  title,
  open,
  onClose,
  children,
  footer,
  wide,
}: {
  title: string;
  open: boolean;
  onClose?: () => void;
  children: ReactNode;
  footer?: ReactNode;
  wide?: boolean;
}) {
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(e) => !e.open && onClose?.()}
      closeOnEscape={onClose !== undefined}
      closeOnInteractOutside={onClose !== undefined}
      size={wide ? "lg" : "md"}
      placement="center"
      scrollBehavior="inside"
    >
      <Portal>
        <Dialog.Backdrop bg="blackAlpha.500" />
        <Dialog.Positioner>
          <Dialog.Content bg="panel" color="ink" borderRadius="3px" borderWidth="1px" borderColor="line" boxShadow="none">
            <Dialog.Header pb="2">
              <Dialog.Title fontSize="18px">{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>{children}</Dialog.Body>
            {footer ? <Dialog.Footer>{footer}</Dialog.Footer> : null}
            {onClose ? (
              <Dialog.CloseTrigger asChild>
                <CloseButton size="sm" color="ink" aria-label="Close" />
              </Dialog.CloseTrigger>
            ) : null}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
