//! A sequence that is the same every time (xorshift): what is laid out twice comes out alike.

/// Where the sequence stands.
#[derive(Debug, Clone)]
pub(super) struct Random(u64);

impl Random {
    /// From a beginning that is not 0.
    pub fn new(seed: u64) -> Random {
        Random(seed.max(1))
    }

    /// The next number below `n`; 0 where `n` is 0.
    pub fn below(&mut self, n: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 % n.max(1) as u64) as usize
    }
}
