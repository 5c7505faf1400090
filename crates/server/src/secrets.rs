//! What nobody can guess.

use rand::Rng;
use sha2::{Digest, Sha256};

/// What the database knows of a token.
pub fn hash(token: &str) -> Vec<u8> {
    Sha256::digest(token.as_bytes()).to_vec()
}

/// Random bytes as hexadecimal digits.
pub fn random_hex(bytes: usize) -> String {
    let mut random = vec![0_u8; bytes];
    rand::rng().fill_bytes(&mut random);
    data_encoding::HEXLOWER.encode(&random)
}
