//! The version of the data: a hash over everything in `data/`, so that no change of a number goes unnoticed in a
//! stored plan.

use std::path::{Path, PathBuf};
use std::{env, fs, io};

use sha2::{Digest, Sha256};

fn files(folder: &Path, into: &mut Vec<PathBuf>) -> io::Result<()> {
    for entry in fs::read_dir(folder)? {
        let path = entry?.path();
        if path.is_dir() { files(&path, into)? } else { into.push(path) }
    }
    Ok(())
}

fn main() -> io::Result<()> {
    println!("cargo::rerun-if-changed=data");
    let data = PathBuf::from(env::var_os("CARGO_MANIFEST_DIR").unwrap_or_default()).join("data");
    let mut all = Vec::new();
    files(&data, &mut all)?;
    all.sort();
    let mut hash = Sha256::new();
    for path in all {
        let name = path.strip_prefix(&data).unwrap_or(&path).to_string_lossy().replace('\\', "/");
        hash.update(name.as_bytes());
        hash.update([0]);
        hash.update(fs::read(&path)?);
        hash.update([0]);
    }
    let hex: String = hash.finalize().iter().take(8).map(|b| format!("{b:02x}")).collect();
    println!("cargo::rustc-env=HOLD_STEADY_DATA={hex}");
    Ok(())
}
