//! What nobody can guess.

use rand::Rng;

/// Random bytes as hexadecimal digits.
pub fn random_hex(bytes: usize) -> String {
    let mut random = vec![0_u8; bytes];
    rand::rng().fill_bytes(&mut random);
    data_encoding::HEXLOWER.encode(&random)
}
