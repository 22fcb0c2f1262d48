/**
 * Coefficients of a half-band filter of two branches of all-pass sections: to twice a rate and back without the delay of a symmetric filter
 * (R. Valenzuela, A. Constantinides, "Digital signal processing schemes for efficient interpolation and decimation", IEE
 * Proc. 130 G, 1983; elliptic design by theta series). What lies near the edge is delayed more than what lies under it. So
 * many sections, those of both branches by turns, with a transition of so wide a share of the doubled rate around its quarter.
 */
export function halfBand(sections: number, transition: number): Float64Array {
  const k = Math.tan(((1 - 2 * transition) * Math.PI) / 4) ** 2;
  const root = (1 - k * k) ** 0.25;
  const e = (0.5 * (1 - root)) / (1 + root);
  const q = e * (1 + e ** 4 * (2 + e ** 4 * (15 + 150 * e ** 4)));
  const order = 2 * sections + 1;
  return Float64Array.from({ length: sections }, (_, index) => {
    const c = index + 1;
    let above = 0;
    let below = 0.5;
    for (let i = 0; i < 8; i++) {
      above += (-1) ** i * q ** (i * (i + 1)) * Math.sin(((2 * i + 1) * c * Math.PI) / order);
      if (i > 0) below += (-1) ** i * q ** (i * i) * Math.cos((2 * i * c * Math.PI) / order);
    }
    const w = ((above * q ** 0.25) / below) ** 2;
    const x = Math.sqrt((1 - w * k) * (1 - w / k)) / (1 + w);
    return (1 - x) / (1 + x);
  });
}
