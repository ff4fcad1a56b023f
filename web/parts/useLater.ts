import { useEffect, useState } from 'react';

/** The value, once it has stayed for so long. */
export function useLater<Value>(value: Value, afterMs: number): Value {
  const [later, setLater] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setLater(value), afterMs);
    return () => clearTimeout(timer);
  }, [value, afterMs]);
  return later;
}
