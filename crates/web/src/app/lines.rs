//! The connections there are: as many as the machine bears, the idle closed before new ones are refused; who hung up.

use std::any::Any;
use std::collections::HashMap;
use std::sync::atomic::{AtomicBool, AtomicU64, AtomicUsize, Ordering};
use std::sync::{Arc, LazyLock, Mutex, PoisonError, Weak};
use std::time::{Duration, Instant};

use actix_tls::accept::rustls_0_23::TlsStream;
use actix_web::HttpRequest;
use actix_web::body::MessageBody;
use actix_web::dev::{Extensions, ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;

/// File descriptors that connections leave to the database, to files and to what else there is.
const LEFT: u64 = 200;
/// More connections than this are of no use to a kitchen, whatever the machine bears.
const MOST: u64 = 4000;
/// Descriptors asked for, where the machine grants them.
const WANTED: u64 = MOST + LEFT;

/// All connections.
#[derive(Debug)]
pub struct Lines {
    open: Mutex<HashMap<u64, Weak<Line>>>,
    next: AtomicU64,
    most: usize,
    begun: Instant,
}

/// One connection.
#[derive(Debug)]
pub struct Line {
    number: u64,
    fd: i32,
    /// Answers it waits for or is being sent.
    busy: AtomicUsize,
    /// When it last was, milliseconds.
    last_ms: AtomicU64,
    closing: AtomicBool,
    of: Weak<Lines>,
}

impl Drop for Line {
    fn drop(&mut self) {
        if let Some(all) = self.of.upgrade() {
            all.lock().remove(&self.number);
        }
    }
}

/// A line that is not idle, for as long as this is held.
#[derive(Debug)]
pub struct InUse(Arc<Line>);

impl Drop for InUse {
    fn drop(&mut self) {
        self.0.touched();
        self.0.busy.fetch_sub(1, Ordering::AcqRel);
    }
}

impl Line {
    fn touched(&self) {
        if let Some(all) = self.of.upgrade() {
            self.last_ms.store(all.now_ms(), Ordering::Release);
        }
    }

    fn in_use(self: &Arc<Self>) -> InUse {
        self.busy.fetch_add(1, Ordering::AcqRel);
        self.touched();
        InUse(self.clone())
    }

    /// Ends it: whoever reads or writes it finds it closed.
    fn close(&self) {
        self.closing.store(true, Ordering::Release);
        #[cfg(unix)]
        let _ = nix::sys::socket::shutdown(self.fd, nix::sys::socket::Shutdown::Both);
    }

    /// Whether whoever asked has hung up. The whole request was read before: what could still come is the end.
    #[cfg(unix)]
    fn is_gone(&self) -> bool {
        use nix::errno::Errno;
        use nix::sys::socket::{MsgFlags, recv};
        match recv(self.fd, &mut [0], MsgFlags::MSG_PEEK | MsgFlags::MSG_DONTWAIT) {
            Ok(bytes) => bytes == 0,
            Err(e) => e != Errno::EAGAIN && e != Errno::EINTR,
        }
    }

    #[cfg(not(unix))]
    fn is_gone(&self) -> bool {
        false
    }
}

/// How many connections the machine bears. Asked once; more descriptors are asked for first.
pub fn most_lines() -> usize {
    static MOST_LINES: LazyLock<usize> = LazyLock::new(|| {
        let granted = descriptors().unwrap_or(1024);
        usize::try_from(granted.saturating_sub(LEFT).clamp(50, MOST)).unwrap_or(50)
    });
    *MOST_LINES
}

#[cfg(unix)]
fn descriptors() -> Option<u64> {
    use nix::sys::resource::{Resource, getrlimit, setrlimit};
    let (soft, hard) = getrlimit(Resource::RLIMIT_NOFILE).ok()?;
    let wanted = WANTED.min(hard);
    if soft < wanted && setrlimit(Resource::RLIMIT_NOFILE, wanted, hard).is_ok() {
        return Some(wanted);
    }
    Some(soft)
}

#[cfg(not(unix))]
fn descriptors() -> Option<u64> {
    Some(WANTED)
}

impl Default for Lines {
    fn default() -> Self {
        Self::of(most_lines())
    }
}

impl Lines {
    fn of(most: usize) -> Self {
        Self { open: Mutex::default(), next: AtomicU64::new(1), most, begun: Instant::now() }
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, HashMap<u64, Weak<Line>>> {
        self.open.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn now_ms(&self) -> u64 {
        u64::try_from(self.begun.elapsed().as_millis()).unwrap_or(u64::MAX)
    }

    /// One more. Where there are nearly as many as there can be, the one that has been idle for longest goes.
    fn opened(self: &Arc<Self>, fd: i32) -> Arc<Line> {
        let line = Arc::new(Line {
            number: self.next.fetch_add(1, Ordering::Relaxed),
            fd,
            busy: AtomicUsize::new(0),
            last_ms: AtomicU64::new(self.now_ms()),
            closing: AtomicBool::new(false),
            of: Arc::downgrade(self),
        });
        let mut open = self.lock();
        open.insert(line.number, Arc::downgrade(&line));
        let crowded = open.len() > self.most - self.most / 10;
        // Let go of before any line is, which would lock it again.
        let all: Vec<Arc<Line>> =
            if crowded { open.values().filter_map(Weak::upgrade).collect() } else { Vec::new() };
        drop(open);
        let closing = |l: &Line| l.closing.load(Ordering::Acquire);
        let idle = all
            .iter()
            .filter(|l| l.number != line.number && l.busy.load(Ordering::Acquire) == 0 && !closing(l));
        if let Some(longest) = idle.min_by_key(|l| l.last_ms.load(Ordering::Acquire)) {
            longest.close();
        }
        line
    }
}

/// Keeps hold of a connection; for [`HttpServer::on_connect`](actix_web::HttpServer::on_connect).
pub fn keep_line(lines: &Arc<Lines>, connection: &dyn Any, data: &mut Extensions) {
    #[cfg(unix)]
    {
        use actix_web::rt::net::TcpStream;
        use std::os::fd::AsRawFd;
        let encrypted = connection.downcast_ref::<TlsStream<TcpStream>>().map(|line| line.get_ref().0);
        if let Some(line) = connection.downcast_ref::<TcpStream>().or(encrypted) {
            data.insert(lines.opened(line.as_raw_fd()));
        }
    }
    #[cfg(not(unix))]
    let _ = (lines, connection, data);
}

/// Marks a request's connection as one that is not idle.
pub fn in_use(request: &HttpRequest) -> Option<InUse> {
    request.conn_data::<Arc<Line>>().map(Line::in_use)
}

/// The same until the answer is made; what is sent for longer keeps a mark of its own.
pub async fn mark(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let _used = in_use(request.request());
    next.call(request).await
}

/// Whether whoever asked has hung up.
pub fn is_gone(request: &HttpRequest) -> bool {
    request.conn_data::<Arc<Line>>().is_some_and(|line| line.is_gone())
}

/// Ends a request's connection after so long, unless what comes back is dropped before.
pub fn close_after(request: &HttpRequest, longest: Duration) -> Option<Closing> {
    let line = Arc::downgrade(request.conn_data::<Arc<Line>>()?);
    let task = actix_web::rt::spawn(async move {
        actix_web::rt::time::sleep(longest).await;
        if let Some(line) = line.upgrade() {
            line.close();
        }
    });
    Some(Closing(task))
}

/// A connection that is closed in a while.
#[derive(Debug)]
pub struct Closing(actix_web::rt::task::JoinHandle<()>);

impl Drop for Closing {
    fn drop(&mut self) {
        self.0.abort();
    }
}

#[cfg(all(test, unix))]
mod tests {
    use super::*;
    use std::net::{TcpListener, TcpStream};
    use std::os::fd::AsRawFd;

    fn pair(listener: &TcpListener) -> (TcpStream, TcpStream) {
        let there = TcpStream::connect(listener.local_addr().expect("bound")).expect("connects");
        (listener.accept().expect("accepted").0, there)
    }

    #[test]
    fn the_longest_idle_line_goes_first_and_none_in_use() {
        let listener = TcpListener::bind("127.0.0.1:0").expect("a port");
        let lines = Arc::new(Lines::of(10));
        let sockets: Vec<_> = (0..10).map(|_| pair(&listener)).collect();
        let mut held = Vec::new();
        for (i, (here, _)) in sockets.iter().enumerate() {
            let line = lines.opened(here.as_raw_fd());
            line.last_ms.store(i as u64, Ordering::Release);
            let used = (i == 0).then(|| line.in_use());
            line.last_ms.store(i as u64, Ordering::Release);
            held.push((line, used));
        }
        // The tenth is one more than nine tenths: the first is in use, the second goes.
        let gone: Vec<bool> = held.iter().map(|(l, _)| l.is_gone()).collect();
        assert_eq!(gone.iter().position(|g| *g), Some(1), "{gone:?}");
        assert_eq!(gone.iter().filter(|g| **g).count(), 1);
        drop(held);
        assert!(lines.lock().is_empty(), "what is closed is forgotten");
    }

    #[test]
    fn who_hung_up_is_gone_and_who_waits_is_not() {
        let listener = TcpListener::bind("127.0.0.1:0").expect("a port");
        let lines = Arc::new(Lines::of(10));
        let (here, there) = pair(&listener);
        let line = lines.opened(here.as_raw_fd());
        assert!(!line.is_gone());
        drop(there);
        let mut tries = (0..100).map(|_| {
            std::thread::sleep(Duration::from_millis(10));
            line.is_gone()
        });
        assert!(tries.any(|gone| gone));
    }
}
