//! A kitchen's own authority, and a certificate it signs: made once, on the machine.
//!
//! The authority can speak for this kitchen's names and addresses alone. Its key signs one certificate and is then gone: it stands in
//! no file, so none can be copied. Both count for as long as browsers take one; after that another is made, and trusted anew.

use std::io::Write;
use std::net::IpAddr;
use std::path::{Path, PathBuf};

use hold_steady_web::Certificate;
use rcgen::{
    BasicConstraints, CertificateParams, CidrSubnet, DistinguishedName, DnType, ExtendedKeyUsagePurpose,
    GeneralSubtree, IsCa, Issuer, KeyPair, KeyUsagePurpose, NameConstraints, SanType,
};
use time::{Duration, OffsetDateTime};

use crate::Failure;
use crate::cli::MakeCertificate;

/// The longest a certificate may count that a person installed an authority for: Apple's limit since 2019, and the shortest of those
/// of the browsers.
const LONGEST_DAYS: u16 = 825;

/// Where they are made: not in the folder's copies, nor in an export.
const FOLDER: &str = "certificate";

/// A name or an address as a certificate says it.
enum Named {
    Host(String),
    Address(IpAddr),
}

impl Named {
    fn of(text: &str) -> Result<Self, Failure> {
        if let Ok(address) = text.trim_matches(['[', ']']).parse() {
            return Ok(Self::Address(address));
        }
        let name = text.to_lowercase();
        let part = |p: &str| {
            !p.is_empty() && p.len() <= 63 && p.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-')
        };
        if name.len() <= 253 && name.split('.').all(part) {
            return Ok(Self::Host(name));
        }
        Err(Failure::Other(format!(
            "“{text}” is neither a host name nor an address; give one such as galley.lan or 192.168.1.20, without port"
        )))
    }

    fn alternative(&self) -> Result<SanType, Failure> {
        Ok(match self {
            Self::Host(name) => SanType::DnsName(name.clone().try_into().map_err(|e| failed(&e))?),
            Self::Address(address) => SanType::IpAddress(*address),
        })
    }

    fn subtree(&self) -> GeneralSubtree {
        match self {
            Self::Host(name) => GeneralSubtree::DnsName(name.clone()),
            Self::Address(IpAddr::V4(a)) => {
                GeneralSubtree::IpAddress(CidrSubnet::from_v4_prefix(a.octets(), 32))
            }
            Self::Address(IpAddr::V6(a)) => {
                GeneralSubtree::IpAddress(CidrSubnet::from_v6_prefix(a.octets(), 128))
            }
        }
    }
}

fn failed(e: &dyn std::fmt::Display) -> Failure {
    Failure::Other(format!("the certificate could not be made: {e}"))
}

fn called(name: &str) -> DistinguishedName {
    let mut all = DistinguishedName::new();
    all.push(DnType::CommonName, name);
    all
}

/// Made: the authority's certificate, the kitchen's with the authority's behind it, and its key; all PEM.
struct Made {
    authority: String,
    chain: String,
    key: String,
}

fn made(names: &[Named], days: u16) -> Result<Made, Failure> {
    let now = OffsetDateTime::now_utc();
    // Phones' clocks are behind at times.
    let (from, until) = (now - Duration::days(1), now + Duration::days(i64::from(days) - 1));
    let mut authority = CertificateParams::default();
    // By its fingerprint's sake each has a name of its own: a phone lists them by it.
    authority.distinguished_name = called(&format!("Kitchen authority of {}", now.date()));
    authority.is_ca = IsCa::Ca(BasicConstraints::Constrained(0));
    authority.key_usages = vec![KeyUsagePurpose::KeyCertSign];
    let permitted_subtrees = names.iter().map(Named::subtree).collect();
    authority.name_constraints = Some(NameConstraints { permitted_subtrees, excluded_subtrees: Vec::new() });
    (authority.not_before, authority.not_after) = (from, until);
    let authority_key = KeyPair::generate().map_err(|e| failed(&e))?;
    let signed = authority.self_signed(&authority_key).map_err(|e| failed(&e))?;
    let issuer = Issuer::new(authority, authority_key);

    let mut leaf = CertificateParams::default();
    leaf.distinguished_name = called("Kitchen");
    leaf.subject_alt_names = names.iter().map(Named::alternative).collect::<Result<_, _>>()?;
    leaf.extended_key_usages = vec![ExtendedKeyUsagePurpose::ServerAuth];
    leaf.key_usages = vec![KeyUsagePurpose::DigitalSignature];
    leaf.use_authority_key_identifier_extension = true;
    (leaf.not_before, leaf.not_after) = (from, until);
    let key = KeyPair::generate().map_err(|e| failed(&e))?;
    let cert = leaf.signed_by(&key, &issuer).map_err(|e| failed(&e))?;
    // The authority's key ends here.
    let authority = signed.pem();
    Ok(Made { chain: format!("{}{authority}", cert.pem()), authority, key: key.serialize_pem() })
}

/// Written whole or not at all, to be read by its owner alone.
fn written(path: &Path, text: &str) -> std::io::Result<()> {
    let part = path.with_added_extension("part");
    let _ = std::fs::remove_file(&part);
    crate::private(&part)?.write_all(text.as_bytes())?;
    std::fs::rename(part, path)
}

/// Makes them, and says what is done with them.
pub fn make(args: &MakeCertificate) -> Result<(), Failure> {
    let names: Vec<Named> = args.names.iter().map(|n| Named::of(n)).collect::<Result<_, _>>()?;
    if args.days == 0 || args.days > LONGEST_DAYS {
        return Err(Failure::Other(format!("--days {}: give 1 to {LONGEST_DAYS}", args.days)));
    }
    let folder = args.data.folder("data")?.join(FOLDER);
    let file = |name: &str| folder.join(name);
    let (chain, key, authority) = (file("kitchen.crt"), file("kitchen.key"), file("authority.crt"));
    if chain.exists() && !args.again {
        return Err(Failure::Other(format!(
            "{} is there already. With --again another is made in its place; every phone has to trust that one anew.",
            chain.display()
        )));
    }
    std::fs::create_dir_all(&folder)?;
    let made = made(&names, args.days)?;
    // The key first: a server that looks between the two sees that they do not go together, and keeps what it shows.
    for (path, text) in [(&key, &made.key), (&chain, &made.chain), (&authority, &made.authority)] {
        written(path, text)?;
    }
    let read = Certificate::read(&chain, &key).map_err(Failure::Other)?;
    let fingerprint = read.authority().map(|a| a.fingerprint.clone()).unwrap_or_default();
    let hosts: Vec<String> = args.names.iter().map(|n| format!("--host {n}")).collect();
    let first = &args.names[0];
    let named = |p: &PathBuf| p.display().to_string();
    println!(
        "A certificate for {} is made; it counts until {}.\n\nServe with it:\n\n    hold-steady serve --bind 0.0.0.0 {} --tls-cert {} --tls-key {}\n\nThen open https://{first}:8765/trust on each phone and follow its steps. The page shows this fingerprint; compare it:\n\n    {fingerprint}\n\nThe authority’s key is gone: nobody can sign another with it.",
        args.names.join(", "),
        read.until().strftime("%d %B %Y"),
        hosts.join(" "),
        named(&chain),
        named(&key),
    );
    Ok(())
}
