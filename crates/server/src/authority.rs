//! A certificate authority of the house's own: a phone that trusts it gets in by HTTPS, and with that a page that works out
//! of reach, stays awake and can be installed. It can vouch for addresses inside a home's network alone.

use std::fs::{self, OpenOptions};
use std::io::Write as _;
use std::net::{IpAddr, Ipv4Addr};
use std::path::{Path, PathBuf};

use anyhow::{Context, Result};
use jiff::civil::Date;
use rcgen::{
    BasicConstraints, CertificateParams, CidrSubnet, DnType, ExtendedKeyUsagePurpose, GeneralSubtree, IsCa, Issuer,
    KeyPair, KeyUsagePurpose, NameConstraints, SanType, date_time_ymd,
};

/// How a phone's list of authorities names it.
const NAME: &str = "Wayfinder in this house";
/// An authority is put on a phone by hand: once in ten years is enough.
const AUTHORITY_YEARS: i16 = 10;
/// What it vouches for is made anew at each start. Phones refuse more than 825 days.
const LEAF_DAYS: i64 = 397;

/// What a home's network has: private addresses (RFC 1918), those between a provider and its customers (RFC 6598), those a
/// machine gives itself (RFC 3927), and the machine itself.
const HOMES: [([u8; 4], [u8; 4]); 6] = [
    ([10, 0, 0, 0], [255, 0, 0, 0]),
    ([172, 16, 0, 0], [255, 240, 0, 0]),
    ([192, 168, 0, 0], [255, 255, 0, 0]),
    ([100, 64, 0, 0], [255, 192, 0, 0]),
    ([169, 254, 0, 0], [255, 255, 0, 0]),
    ([127, 0, 0, 0], [255, 0, 0, 0]),
];

/// True for an address that the authority can vouch for.
pub fn is_at_home(address: Ipv4Addr) -> bool {
    let bits = |octets: [u8; 4]| u32::from_be_bytes(octets);
    HOMES.iter().any(|(net, mask)| bits(address.octets()) & bits(*mask) == bits(*net))
}

/// An authority: its certificate as PEM, and its key.
pub struct Authority {
    pem: String,
    key: KeyPair,
}

/// A certificate for this machine, its key, both as DER.
pub struct Leaf {
    pub certificate: Vec<u8>,
    pub key: Vec<u8>,
}

impl Authority {
    /// The authority kept beside a database, made where there is none; of nothing, one for as long as the program runs.
    ///
    /// # Errors
    /// Where its files cannot be read or written.
    pub fn beside(data: Option<&Path>, today: Date) -> Result<Self> {
        let Some(data) = data else { return Self::new(today) };
        let (certificate, key) = (beside(data, "crt"), beside(data, "key"));
        if certificate.exists() && key.exists() {
            let read =
                |path: &Path| fs::read_to_string(path).with_context(|| format!("{} cannot be read", path.display()));
            let key = KeyPair::from_pem(&read(&key)?).with_context(|| format!("{} is no key", key.display()))?;
            return Ok(Self { pem: read(&certificate)?, key });
        }
        let made = Self::new(today)?;
        write_for_owner(&key, &made.key.serialize_pem())?;
        fs::write(&certificate, &made.pem).with_context(|| format!("{} cannot be written", certificate.display()))?;
        Ok(made)
    }

    fn new(today: Date) -> Result<Self> {
        let key = KeyPair::generate()?;
        let mut params = params();
        date(&mut params, today, jiff::Span::new().years(AUTHORITY_YEARS));
        Ok(Self { pem: params.self_signed(&key)?.pem(), key })
    }

    /// Its certificate, to be trusted by a phone.
    pub fn pem(&self) -> &str {
        &self.pem
    }

    /// Vouches for these addresses of this machine, as far as it can.
    ///
    /// # Errors
    /// Where no certificate can be made.
    pub fn vouch(&self, addresses: &[Ipv4Addr], today: Date) -> Result<Leaf> {
        let key = KeyPair::generate()?;
        let mut leaf = CertificateParams::new(vec!["localhost".to_owned()])?;
        leaf.distinguished_name.push(DnType::CommonName, "Wayfinder");
        let own = addresses.iter().copied().filter(|a| is_at_home(*a)).chain([Ipv4Addr::LOCALHOST]);
        leaf.subject_alt_names.extend(own.map(|a| SanType::IpAddress(IpAddr::V4(a))));
        leaf.extended_key_usages = vec![ExtendedKeyUsagePurpose::ServerAuth];
        leaf.key_usages = vec![KeyUsagePurpose::DigitalSignature];
        leaf.use_authority_key_identifier_extension = true;
        date(&mut leaf, today, jiff::Span::new().days(LEAF_DAYS));
        let issuer = Issuer::new(params(), &self.key);
        Ok(Leaf { certificate: leaf.signed_by(&key, &issuer)?.der().to_vec(), key: key.serialize_der() })
    }
}

/// What is the same in every authority.
fn params() -> CertificateParams {
    let mut params = CertificateParams::default();
    params.distinguished_name.remove(DnType::CommonName);
    params.distinguished_name.push(DnType::CommonName, NAME);
    params.is_ca = IsCa::Ca(BasicConstraints::Constrained(0));
    params.key_usages = vec![KeyUsagePurpose::KeyCertSign, KeyUsagePurpose::CrlSign];
    let homes = HOMES.iter().map(|(net, mask)| GeneralSubtree::IpAddress(CidrSubnet::V4(*net, *mask)));
    let permitted = homes.chain([GeneralSubtree::DnsName("localhost".into())]).collect();
    params.name_constraints = Some(NameConstraints { permitted_subtrees: permitted, excluded_subtrees: Vec::new() });
    params
}

/// Good from the day before, since a phone's clock may lag, for so long.
fn date(params: &mut CertificateParams, today: Date, long: jiff::Span) {
    let day = |d: Date| date_time_ymd(d.year().into(), d.month().unsigned_abs(), d.day().unsigned_abs());
    params.not_before = day(today.saturating_sub(jiff::Span::new().days(1)));
    params.not_after = day(today.saturating_add(long));
}

/// `wayfinder.db` has `wayfinder.authority.crt` beside it.
fn beside(data: &Path, end: &str) -> PathBuf {
    data.with_extension(format!("authority.{end}"))
}

/// Whoever has the key can speak as this house: nobody else may read it.
fn write_for_owner(path: &Path, text: &str) -> Result<()> {
    let mut options = OpenOptions::new();
    options.write(true).create(true).truncate(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    let written = options.open(path).and_then(|mut file| file.write_all(text.as_bytes()));
    written.with_context(|| format!("{} cannot be written", path.display()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::process::Command;

    const TODAY: Date = jiff::civil::date(2026, 3, 1);

    /// What `openssl` says of a leaf under an authority at some address.
    fn openssl(authority: &Authority, leaf: &Leaf, address: &str) -> String {
        let folder = tempfile::tempdir().unwrap();
        let (ca, der, pem) =
            (folder.path().join("ca.pem"), folder.path().join("leaf.der"), folder.path().join("leaf.pem"));
        fs::write(&ca, authority.pem()).unwrap();
        fs::write(&der, &leaf.certificate).unwrap();
        let run = |args: &[&std::ffi::OsStr]| Command::new("openssl").args(args).output().unwrap();
        let os = |text: &'static str| std::ffi::OsStr::new(text);
        run(&[os("x509"), os("-inform"), os("DER"), os("-in"), der.as_os_str(), os("-out"), pem.as_os_str()]);
        let mut verify = Command::new("openssl");
        verify.args([
            "verify",
            "-x509_strict",
            "-purpose",
            "sslserver",
            "-attime",
            "1772500000",
            "-verify_ip",
            address,
        ]);
        let said = verify.arg("-CAfile").arg(&ca).arg(&pem).output().unwrap();
        format!("{}{}", String::from_utf8_lossy(&said.stdout), String::from_utf8_lossy(&said.stderr))
    }

    // RFC 5280, judged by an independent implementation of it.
    #[test]
    fn openssl_trusts_what_the_authority_vouches_for_and_nothing_outside_a_home() {
        let authority = Authority::beside(None, TODAY).unwrap();
        let leaf = authority.vouch(&[Ipv4Addr::new(192, 168, 7, 20), Ipv4Addr::new(203, 0, 113, 9)], TODAY).unwrap();
        for own in ["192.168.7.20", "127.0.0.1"] {
            let said = openssl(&authority, &leaf, own);
            assert!(said.contains(": OK"), "{own}: {said}");
        }
        let elsewhere = openssl(&authority, &leaf, "203.0.113.9");
        assert!(elsewhere.contains("mismatch"), "left out, since no home has it: {elsewhere}");
        // Somebody who took the key cannot speak for other machines of the internet.
        let key = KeyPair::generate().unwrap();
        let mut stolen = CertificateParams::new(vec!["203.0.113.9".to_owned()]).unwrap();
        date(&mut stolen, TODAY, jiff::Span::new().days(9));
        stolen.use_authority_key_identifier_extension = true;
        let signed = stolen.signed_by(&key, &Issuer::new(params(), &authority.key)).unwrap();
        let said = openssl(&authority, &Leaf { certificate: signed.der().to_vec(), key: Vec::new() }, "203.0.113.9");
        assert!(said.contains("permitted subtree violation"), "{said}");
    }

    #[test]
    fn an_authority_is_made_once_and_its_key_is_the_owners_alone() {
        let folder = tempfile::tempdir().unwrap();
        let data = folder.path().join("house.db");
        let first = Authority::beside(Some(&data), TODAY).unwrap();
        let again = Authority::beside(Some(&data), TODAY).unwrap();
        assert_eq!(first.pem(), again.pem());
        assert_eq!(first.key.serialize_pem(), again.key.serialize_pem());
        let said = openssl(&first, &again.vouch(&[], TODAY).unwrap(), "127.0.0.1");
        assert!(said.contains(": OK"), "after a restart: {said}");
        #[cfg(unix)]
        {
            use std::os::unix::fs::PermissionsExt as _;
            let mode = fs::metadata(folder.path().join("house.authority.key")).unwrap().permissions().mode();
            assert_eq!(mode & 0o077, 0);
        }
    }

    #[test]
    fn an_address_of_a_home_is_private() {
        for home in ["10.1.2.3", "172.16.0.1", "172.31.255.1", "192.168.0.9", "100.64.0.1", "169.254.3.3", "127.0.0.1"]
        {
            assert!(is_at_home(home.parse().unwrap()), "{home}");
        }
        for outside in ["172.32.0.1", "8.8.8.8", "192.169.0.1", "100.128.0.1", "203.0.113.9"] {
            assert!(!is_at_home(outside.parse().unwrap()), "{outside}");
        }
    }
}
