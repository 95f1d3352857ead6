//! Secrets that the program makes and a browser or a device holds: here they are kept hashed.

use sha2::{Digest, Sha256};
use uuid::Uuid;

/// Two random identifiers, in hexadecimal digits: 244 bits nobody guesses, so that a plain hash of them is enough.
pub(crate) fn new() -> String {
    format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple())
}

/// What the database keeps of one.
pub(crate) fn hashed(secret: &str) -> [u8; 32] {
    Sha256::digest(secret.as_bytes()).into()
}
