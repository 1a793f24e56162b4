import { Toast as Primitive } from "radix-ui";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";

const ToastContext = createContext<(text: string) => void>(() => {});

/** Say in passing what was done. */
export const useToast = () => useContext(ToastContext);

export function ToastProvider({ children }: { children: ReactNode }) {
  const [toast, setToast] = useState<{ text: string; at: number } | null>(null);
  const show = useCallback((text: string) => setToast({ text, at: Date.now() }), []);
  return (
    <ToastContext value={show}>
      <Primitive.Provider duration={4000} label="Message">
        {children}
        {toast && (
          <Primitive.Root
            key={toast.at}
            onOpenChange={(open) => !open && setToast(null)}
            className="rounded-sm bg-ink px-4 py-2.5 text-paper shadow-lg"
          >
            <Primitive.Description>{toast.text}</Primitive.Description>
          </Primitive.Root>
        )}
        <Primitive.Viewport className="fixed bottom-34 left-1/2 z-50 w-max max-w-[90vw] -translate-x-1/2 outline-none md:bottom-6" />
      </Primitive.Provider>
    </ToastContext>
  );
}
