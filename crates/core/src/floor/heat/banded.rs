//! A banded system of equations, solved directly.

/// Rows of `2 * band + 1` numbers around the diagonal.
#[derive(Debug, Clone)]
pub struct Banded {
    n: usize,
    band: usize,
    rows: Vec<f64>,
}

impl Banded {
    /// Of zeros.
    pub fn new(n: usize, band: usize) -> Banded {
        Banded {
            n,
            band,
            rows: vec![0.0; n * (2 * band + 1)],
        }
    }

    /// Adds to an element; it lies within the band.
    pub fn add(&mut self, row: usize, column: usize, value: f64) {
        self.rows[row * (2 * self.band + 1) + column + self.band - row] += value;
    }

    /// Splits it into a lower and an upper half in place. No rows are exchanged: what conducts, loses and is carried along has a positive symmetric part,
    /// and such a system never asks for it.
    pub fn split(mut self) -> Split {
        let (n, m, wide) = (self.n, self.band, 2 * self.band + 1);
        for k in 0..n {
            let last = (k + m).min(n - 1);
            let (upto, below) = self.rows.split_at_mut((k + 1) * wide);
            let pivot_row = &upto[k * wide + m..k * wide + m + (last - k) + 1];
            let pivot = pivot_row[0];
            for i in k + 1..=last {
                let row = &mut below[(i - k - 1) * wide..(i - k) * wide];
                let first = k + m - i;
                let factor = row[first] / pivot;
                row[first] = factor;
                if factor != 0.0 {
                    for (a, p) in row[first + 1..=first + (last - k)]
                        .iter_mut()
                        .zip(&pivot_row[1..])
                    {
                        *a -= factor * p;
                    }
                }
            }
        }
        Split(self)
    }
}

/// A system that was split: solved for as many right sides as are wanted.
#[derive(Debug, Clone)]
pub struct Split(Banded);

impl Split {
    /// Puts the solution in place of the right side.
    pub fn solve(&self, b: &mut [f64]) {
        let Split(Banded { n, band: m, rows }) = self;
        let (n, m, wide) = (*n, *m, 2 * m + 1);
        for i in 0..n {
            let from = i.saturating_sub(m);
            let row = &rows[i * wide + from + m - i..i * wide + m];
            let sum: f64 = row.iter().zip(&b[from..i]).map(|(a, x)| a * x).sum();
            b[i] -= sum;
        }
        for i in (0..n).rev() {
            let last = (i + m).min(n - 1);
            let row = &rows[i * wide + m..i * wide + m + (last - i) + 1];
            let sum: f64 = row[1..]
                .iter()
                .zip(&b[i + 1..=last])
                .map(|(a, x)| a * x)
                .sum();
            b[i] = (b[i] - sum) / row[0];
        }
    }
}
