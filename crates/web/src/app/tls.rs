//! The certificate this server shows: read anew when its files change, looked at before it ends.

use std::path::{Path, PathBuf};
use std::sync::{Arc, PoisonError, RwLock};
use std::time::SystemTime;

use jiff::{SignedDuration, Timestamp};
use rustls::ServerConfig;
use rustls::crypto::ring;
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};
use rustls::server::{ClientHello, ResolvesServerCert};
use rustls::sign::CertifiedKey;
use sha2::{Digest, Sha256};
use x509_parser::prelude::{FromDer, X509Certificate};

/// So long before its end it is said.
const WARNED_DAYS: i64 = 30;

/// A certificate and its key, in two files.
#[derive(Debug)]
pub struct Certificate {
    cert: PathBuf,
    key: PathBuf,
    shown: RwLock<Shown>,
}

/// What was read of the files.
#[derive(Debug, Clone)]
struct Shown {
    certified: Arc<CertifiedKey>,
    until: Timestamp,
    authority: Option<Arc<Authority>>,
    changed: [Option<SystemTime>; 2],
}

/// The kitchen's own authority, where the certificate was signed by one and it came along: what a phone is to trust.
#[derive(Debug)]
pub struct Authority {
    /// As it is taken by phones.
    pub der: Vec<u8>,
    /// SHA-256 of it, in pairs of digits: what is compared by eye.
    pub fingerprint: String,
}

/// Whole days from now until an instant.
pub fn days_left(until: Timestamp, now: Timestamp) -> i64 {
    until.duration_since(now).as_hours().div_euclid(24)
}

fn changed(path: &Path) -> Option<SystemTime> {
    std::fs::metadata(path).and_then(|m| m.modified()).ok()
}

impl Shown {
    fn read(cert: &Path, key: &Path) -> Result<Self, String> {
        let named = |path: &Path, e: &dyn std::fmt::Display| format!("{}: {e}", path.display());
        // Before they are read: what is written meanwhile is read at the next look.
        let changed = [changed(cert), changed(key)];
        let chain: Vec<CertificateDer<'static>> = CertificateDer::pem_file_iter(cert)
            .map_err(|e| named(cert, &e))?
            .collect::<Result<_, _>>()
            .map_err(|e| named(cert, &e))?;
        let Some(leaf) = chain.first() else { return Err(named(cert, &"there is no certificate in it")) };
        let (_, leaf) = X509Certificate::from_der(leaf).map_err(|e| named(cert, &e))?;
        let until =
            Timestamp::from_second(leaf.validity().not_after.timestamp()).map_err(|e| named(cert, &e))?;
        let authority = chain.last().and_then(authority).map(Arc::new);
        let private = PrivateKeyDer::from_pem_file(key).map_err(|e| named(key, &e))?;
        let certified = CertifiedKey::from_der(chain, private, &ring::default_provider())
            .map_err(|e| format!("{} and {} do not go together: {e}", cert.display(), key.display()))?;
        Ok(Self { certified: Arc::new(certified), until, authority, changed })
    }
}

/// An authority that signed itself and is one: a kitchen's own. Those that everybody trusts do not come along.
fn authority(der: &CertificateDer<'_>) -> Option<Authority> {
    let (_, cert) = X509Certificate::from_der(der).ok()?;
    (cert.is_ca() && cert.subject() == cert.issuer()).then(|| {
        let pairs: Vec<String> = Sha256::digest(der).iter().map(|b| format!("{b:02X}")).collect();
        Authority { der: der.to_vec(), fingerprint: pairs.join(":") }
    })
}

impl Certificate {
    /// Reads a certificate (with those that lead to it) and its key, both PEM.
    ///
    /// # Errors
    /// Which file cannot be read, and why; or that they do not go together.
    pub fn read(cert: &Path, key: &Path) -> Result<Self, String> {
        let shown = RwLock::new(Shown::read(cert, key)?);
        Ok(Self { cert: cert.to_owned(), key: key.to_owned(), shown })
    }

    fn shown(&self) -> Shown {
        self.shown.read().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// Until when it counts.
    pub fn until(&self) -> Timestamp {
        self.shown().until
    }

    /// Until when it counts, where that is soon.
    pub fn ends_soon(&self, now: Timestamp) -> Option<Timestamp> {
        let until = self.until();
        (until.duration_since(now) < SignedDuration::from_hours(WARNED_DAYS * 24)).then_some(until)
    }

    /// The kitchen's own authority, where it is one.
    pub fn authority(&self) -> Option<Arc<Authority>> {
        self.shown().authority
    }

    /// Reads the files again where they changed; whether they did. What cannot be read leaves what is shown as it is.
    ///
    /// # Errors
    /// As [`Self::read`].
    pub fn look_again(&self) -> Result<bool, String> {
        if self.shown().changed == [changed(&self.cert), changed(&self.key)] {
            return Ok(false);
        }
        let shown = Shown::read(&self.cert, &self.key)?;
        *self.shown.write().unwrap_or_else(PoisonError::into_inner) = shown;
        Ok(true)
    }

    /// How connections are made with it: TLS 1.2 and 1.3.
    ///
    /// # Errors
    /// When the library does not take it.
    pub fn config(self: &Arc<Self>) -> Result<ServerConfig, rustls::Error> {
        Ok(ServerConfig::builder_with_provider(Arc::new(ring::default_provider()))
            .with_safe_default_protocol_versions()?
            .with_no_client_auth()
            .with_cert_resolver(self.clone()))
    }
}

impl ResolvesServerCert for Certificate {
    fn resolve(&self, _: ClientHello<'_>) -> Option<Arc<CertifiedKey>> {
        Some(self.shown().certified)
    }
}
