//! Serving connections: each has limits in time for its head and while it is idle, and all end in order.

use axum::{Router, extract::ConnectInfo};
use hyper_util::{
    rt::{TokioExecutor, TokioIo, TokioTimer},
    server::{conn::auto::Builder, graceful::GracefulShutdown},
    service::TowerToHyperService,
};
use std::{net::SocketAddr, sync::Arc, time::Duration};
use tokio::{net::TcpListener, sync::Semaphore};
use tower::{Layer, ServiceExt};

/// How long the head of a request may take, and how long a connection may be idle before the next.
const HEAD: Duration = Duration::from_secs(20);
/// How long a piece of a body may take to come.
const PIECE: Duration = Duration::from_secs(20);
/// Most connections at once; more wait.
const CONNECTIONS: usize = 4_000;
/// How long what is under way may take to end when the server is told to stop.
const ENDING: Duration = Duration::from_secs(5);

/// Serves until told to stop.
pub async fn serve(listener: TcpListener, router: Router, stop: impl Future<Output = ()>) {
    let router = tower_http::timeout::RequestBodyTimeoutLayer::new(PIECE).layer(router);
    let room = Arc::new(Semaphore::new(CONNECTIONS));
    let graceful = GracefulShutdown::new();
    let mut builder = Builder::new(TokioExecutor::new());
    builder.http1().timer(TokioTimer::new()).header_read_timeout(HEAD).max_buf_size(64 * 1024);
    builder.http2().timer(TokioTimer::new()).keep_alive_interval(HEAD).keep_alive_timeout(HEAD).max_concurrent_streams(100);
    let builder = Arc::new(builder);
    let mut stop = std::pin::pin!(stop);
    loop {
        let Ok(permit) = room.clone().acquire_owned().await else { break };
        let (stream, peer) = tokio::select! {
            accepted = listener.accept() => match accepted {
                Ok(accepted) => accepted,
                Err(error) => {
                    tracing::warn!(%error, "a connection could not be taken");
                    tokio::time::sleep(Duration::from_millis(50)).await;
                    continue;
                }
            },
            () = &mut stop => break,
        };
        // Small answers leave at once.
        let _ = stream.set_nodelay(true);
        let router = router.clone();
        let service = tower::service_fn(move |mut request: axum::http::Request<hyper::body::Incoming>| {
            request.extensions_mut().insert(ConnectInfo::<SocketAddr>(peer));
            router.clone().oneshot(request)
        });
        let builder = builder.clone();
        let watcher = graceful.watcher();
        tokio::spawn(async move {
            let connection = builder.serve_connection_with_upgrades(TokioIo::new(stream), TowerToHyperService::new(service));
            // A connection that broke, or took too long, is nobody's fault here.
            let _ = watcher.watch(connection.into_owned()).await;
            drop(permit);
        });
    }
    // Live events never end by themselves.
    let _ = tokio::time::timeout(ENDING, graceful.shutdown()).await;
}
