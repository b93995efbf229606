//! Foreign drawings are drawn in a child process of the program itself, bytes in and a PNG out: one that was made to do
//! harm ends that child, and nothing else.

use std::io::{Read, Write};
use std::path::PathBuf;
use std::process::Stdio;
use std::time::Duration;

use tokio::io::AsyncWriteExt;
use tokio::process::Command;
use tokio::sync::Semaphore;
use wayfinder_formats::picture::{BadPicture, MOST_BYTES, draw, is_drawing};

/// The command of the program that is such a child.
pub const COMMAND: &str = "draw-svg";
/// Longer than any plan takes to draw.
const LONGEST: Duration = Duration::from_secs(5);
/// Children at a time: the server still answers with all of them at work.
const AT_A_TIME: usize = 2;
/// Memory of a child in bytes: a canvas takes 23 MB, and a filter may need a dozen. The program itself counts too.
#[cfg(unix)]
const MOST_MEMORY: u64 = 1 << 30;

/// Draws in children.
pub struct Drawer {
    program: PathBuf,
    free: Semaphore,
}

impl Drawer {
    /// `program` is this program, which is started again.
    pub fn new(program: PathBuf) -> Self {
        Self { program, free: Semaphore::new(AT_A_TIME) }
    }

    /// A drawing as a PNG picture.
    ///
    /// # Errors
    /// [`BadPicture`] where it is none, or too complicated.
    pub async fn draw(&self, svg: &[u8]) -> Result<Vec<u8>, BadPicture> {
        if svg.len() > MOST_BYTES {
            return Err(BadPicture::TooLarge(svg.len()));
        }
        if !is_drawing(svg) {
            return Err(BadPicture::Unknown);
        }
        let _turn = self.free.acquire().await.map_err(|e| BadPicture::Broken(e.to_string()))?;
        // A child that takes too long is killed when it is dropped.
        match tokio::time::timeout(LONGEST, self.child(svg)).await {
            Ok(Ok(drawn)) => drawn,
            Ok(Err(e)) => Err(BadPicture::Broken(format!("the drawing cannot be drawn here: {e}"))),
            Err(_) => Err(BadPicture::TooComplicated),
        }
    }

    async fn child(&self, svg: &[u8]) -> std::io::Result<Result<Vec<u8>, BadPicture>> {
        let mut command = Command::new(&self.program);
        command.arg(COMMAND).env_clear().kill_on_drop(true);
        let mut child = command.stdin(Stdio::piped()).stdout(Stdio::piped()).stderr(Stdio::piped()).spawn()?;
        if let Some(mut into) = child.stdin.take() {
            // A child that dies reads no further; how it ended tells.
            let _ = into.write_all(svg).await;
        }
        let ended = child.wait_with_output().await?;
        Ok(match ended.status.code() {
            Some(0) => Ok(ended.stdout),
            Some(code) if code == i32::from(REFUSED) => Err(refused(&ended.stderr)),
            _ => Err(BadPicture::TooComplicated),
        })
    }
}

/// Ends a child whose drawing was read and refused, with the reason on its standard error.
const REFUSED: u8 = 3;

fn refused(reason: &[u8]) -> BadPicture {
    let reason = String::from_utf8_lossy(reason).trim().to_owned();
    if reason == BadPicture::TooComplicated.to_string() {
        BadPicture::TooComplicated
    } else {
        BadPicture::Broken(reason)
    }
}

/// The child: reads a drawing, writes a picture.
pub fn child() -> std::process::ExitCode {
    if let Err(e) = bound() {
        eprintln!("{e}");
        return std::process::ExitCode::FAILURE;
    }
    let mut svg = Vec::new();
    let read = std::io::stdin().lock().take(MOST_BYTES as u64).read_to_end(&mut svg);
    let drawn = read.map_err(|e| BadPicture::Broken(e.to_string())).and_then(|_| draw(&svg));
    let written =
        drawn.and_then(|png| std::io::stdout().lock().write_all(&png).map_err(|e| BadPicture::Broken(e.to_string())));
    match written {
        Ok(()) => std::process::ExitCode::SUCCESS,
        Err(BadPicture::Broken(reason)) => {
            eprintln!("{reason}");
            std::process::ExitCode::from(REFUSED)
        }
        Err(bad) => {
            eprintln!("{bad}");
            std::process::ExitCode::from(REFUSED)
        }
    }
}

/// Bounds what this process may use; it is never raised again.
#[cfg(unix)]
fn bound() -> std::io::Result<()> {
    use rustix::process::{Resource, Rlimit, setrlimit};
    let limit = |most| Rlimit { current: Some(most), maximum: Some(most) };
    setrlimit(Resource::As, limit(MOST_MEMORY))?;
    setrlimit(Resource::Cpu, limit(LONGEST.as_secs()))?;
    setrlimit(Resource::Core, limit(0))?;
    Ok(())
}

#[cfg(not(unix))]
fn bound() -> std::io::Result<()> {
    Ok(())
}
