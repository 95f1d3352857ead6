//! Passwords and PINs: what may be one, and how it is kept.

use std::collections::HashSet;
use std::sync::LazyLock;

use actix_web::web;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use argon2::{Algorithm, Argon2, Params, Version};
use hold_steady_core::who::SHORTEST_PASSWORD;
use tokio::sync::Semaphore;

use crate::app::{PageError, PinKey};
use crate::words::people as says;

/// Longer ones are taken by nobody, and would cost.
const LONGEST: usize = 256;

/// How many passwords are hashed at once: each takes 19 MiB and a processor. (Argon2id, 19 MiB, two passes: the least of the
/// OWASP Password Storage Cheat Sheet, and the library's default.)
static PLACES: Semaphore = Semaphore::const_new(2);

static COMMON: LazyLock<HashSet<&'static str>> = LazyLock::new(|| {
    include_str!("../../data/common-passwords.txt").lines().filter(|l| !l.starts_with('#')).collect()
});

/// Why something cannot be a password.
pub fn unfit(password: &str, name: &str) -> Option<String> {
    let given = password.chars().count();
    if given < SHORTEST_PASSWORD {
        return Some(says::too_short(given));
    }
    if password.len() > LONGEST {
        return Some(says::too_long(LONGEST));
    }
    let plain = password.to_lowercase();
    if COMMON.contains(plain.as_str()) {
        return Some(says::COMMON.into());
    }
    (plain.trim() == name.trim().to_lowercase()).then(|| says::IS_THE_NAME.into())
}

/// Away from the threads that serve, at one of the places there are.
async fn at_a_place<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> Result<T, PageError> {
    let place = PLACES.try_acquire().map_err(|_| PageError::TooMany(1, says::HASHING.into()))?;
    let done = web::block(move || {
        let _place = place;
        work()
    });
    done.await.map_err(|_| PageError::Interrupted)
}

/// A password as it is kept.
pub async fn hash(password: String) -> Result<String, PageError> {
    let hashed =
        at_a_place(move || Argon2::default().hash_password(password.as_bytes()).map(|h| h.to_string()));
    hashed.await?.map_err(|_| PageError::Interrupted)
}

/// Of a password nobody has.
const NOBODY: &str =
    "$argon2id$v=19$m=19456,t=2,p=1$bm9ib2R5LWhhcy10aGlz$2oAMA0AmIhfKEZ4yQnLN4mxJEz3JvMtWXRfmYCFuCbE";

/// Whether a password is the one that was hashed. Where nobody has one it takes as long: names are not told by the clock.
pub async fn is(password: String, hash: Option<String>) -> Result<bool, PageError> {
    let known = hash.is_some();
    let right = at_a_place(move || {
        let kept = hash.as_deref().unwrap_or(NOBODY);
        PasswordHash::new(kept)
            .is_ok_and(|kept| Argon2::default().verify_password(password.as_bytes(), &kept).is_ok())
    });
    Ok(right.await? && known)
}

/// Argon2id with a key that stands in no copy of the database: without it six digits would be guessed in a day.
fn keyed(key: &PinKey) -> Option<Argon2<'_>> {
    Argon2::new_with_secret(&key.0, Algorithm::Argon2id, Version::V0x13, Params::default()).ok()
}

/// A PIN as it is kept.
pub async fn hash_pin(key: PinKey, pin: String) -> Result<String, PageError> {
    let hashed = at_a_place(move || Some(keyed(&key)?.hash_password(pin.as_bytes()).ok()?.to_string()));
    hashed.await?.ok_or(PageError::Interrupted)
}

/// Whether a PIN is the one that was hashed.
pub async fn is_pin(key: PinKey, pin: String, hash: Option<String>) -> Result<bool, PageError> {
    let known = hash.is_some();
    let right = at_a_place(move || {
        let kept = hash.as_deref().unwrap_or(NOBODY);
        PasswordHash::new(kept).is_ok_and(|kept| {
            keyed(&key).is_some_and(|argon| argon.verify_password(pin.as_bytes(), &kept).is_ok())
        })
    });
    Ok(right.await? && known)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn short_common_and_named_ones_are_refused_with_the_reason() {
        assert!(
            unfit("nine char", "Ida").is_some_and(|why| why.contains("at least 10") && why.contains("has 9"))
        );
        assert!(unfit("Password123", "Ida").is_some_and(|why| why.contains("Many people")));
        assert!(unfit("ida of the galley", "Ida of the Galley").is_some());
        assert!(unfit(&"a".repeat(300), "Ida").is_some_and(|why| why.contains("256")));
        assert_eq!(unfit("three blue kettles", "Ida"), None);
        assert_eq!(unfit("kilenc kék üst", "Ida"), None, "letters are counted, not bytes");
    }

    #[test]
    fn what_was_hashed_is_known_again_and_nothing_else() {
        actix_web::rt::System::new().block_on(compared());
    }

    #[test]
    fn a_pin_counts_with_its_key_alone() {
        actix_web::rt::System::new().block_on(async {
            let (key, other) = (PinKey([7; 32]), PinKey([8; 32]));
            let kept = hash_pin(key.clone(), "402817".into()).await.expect("hashed");
            assert!(is_pin(key.clone(), "402817".into(), Some(kept.clone())).await.expect("compared"));
            assert!(!is_pin(key, "402818".into(), Some(kept.clone())).await.expect("compared"));
            assert!(!is_pin(other, "402817".into(), Some(kept)).await.expect("compared"));
        });
    }

    async fn compared() {
        let kept = hash("three blue kettles".into()).await.expect("hashed");
        assert!(kept.starts_with("$argon2id$v=19$m=19456,t=2,p=1$"), "{kept}");
        assert!(is("three blue kettles".into(), Some(kept.clone())).await.expect("compared"));
        assert!(!is("three blue kettle".into(), Some(kept)).await.expect("compared"));
        // Nobody's takes as long: it is a hash of the same cost.
        let nobody = PasswordHash::new(NOBODY).expect("a hash");
        assert_eq!(
            nobody.params,
            PasswordHash::new(&hash("x".into()).await.expect("hashed")).expect("a hash").params
        );
        assert!(!is("three blue kettles".into(), None).await.expect("compared"));
    }
}
