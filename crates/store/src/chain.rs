//! The hash chain of a record.

use sha2::{Digest, Sha256};

/// Hash of one entry: over the hash before it, its place and its stored bytes. SHA-256 (FIPS 180-4).
///
/// The bytes themselves are kept, because JSONB would order keys anew.
pub(crate) fn entry_hash(previous: &[u8], job: &[u8; 16], seq: i64, bytes: &[u8]) -> Vec<u8> {
    let mut hash = Sha256::new();
    hash.update(previous);
    hash.update(job);
    hash.update(seq.to_be_bytes());
    hash.update(bytes);
    hash.finalize().to_vec()
}
