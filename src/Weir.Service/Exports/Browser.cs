using System.Diagnostics;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace Weir.Service.Exports;

/// <summary>
/// The one browser that prints what viewers take along: Debian's Chromium, begun when it is first needed and ended when it was not for a
/// while. It opens one page, which was made here, draws what it is given and holds all it needs; it has no network. After each use the page
/// is opened anew, so that none ever holds what two viewers may see, and stands ready for the next. Those who want it stand in line.
/// </summary>
internal sealed class Browser : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(90);
    internal static readonly TimeSpan Idle = TimeSpan.FromMinutes(3);

    private readonly WaitingLine _line = new(1, 20);

    /// <summary>Whoever has it may touch the browser: whose turn it is, or what makes it ready.</summary>
    private readonly SemaphoreSlim _hand = new(1);
    private readonly string _folder;
    private readonly ILogger<Browser> _log;
    private readonly ITimer _rest;
    private volatile bool _isOver;
    private (ChromeDriver Driver, ChromeDriverService Service)? _running;
    private bool _isReady;

    public Browser(ServiceOptions options, TimeProvider clock, ILogger<Browser> log)
    {
        (_folder, _log) = (Path.Combine(options.Folders.Work, "paper"), log);
        _rest = clock.CreateTimer(_ => Rest(), null, Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        // A service that was killed leaves its browser running, which nobody may need for long.
        if (!Directory.Exists(Profiles))
            return;
        try
        {
            EndLeftOver();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            _log.LogWarning("What an earlier service left of its browser is taken away when one is begun: {Cause}", e.Message);
        }
    }

    private string Profiles => Path.Combine(_folder, "profile");

    private string PidFile => Path.Combine(_folder, "driver.pid");

    /// <summary>True if there is a browser on this machine.</summary>
    public bool IsThere => Chromium is not null && Program("chromedriver") is not null;

    /// <summary>The one without windows begins in half the time; the whole one draws the same.</summary>
    private static string? Chromium => Program(WithoutWindows) ?? Program("chromium");

    private const string WithoutWindows = "chromium-headless-shell";

    /// <exception cref="ProblemException">There is none.</exception>
    public void Require()
    {
        if (!IsThere)
            throw new ProblemException(
                501,
                "no-browser",
                "This service has no browser to draw pictures and pages with.",
                "Whoever runs it installs Debian's packages chromium-headless-shell and chromium-driver. csv, xlsx, json and html go without."
            );
    }

    private static string? Program(string name) =>
        (Environment.GetEnvironmentVariable("PATH") ?? "")
            .Split(Path.PathSeparator, StringSplitOptions.RemoveEmptyEntries)
            .Select(folder => Path.Combine(folder, name))
            .FirstOrDefault(File.Exists);

    /// <summary>Makes it ready for whoever will need it in a moment; in the background, and only if nobody has it.</summary>
    public void Begin(DrawingPage page)
    {
        if (!IsThere || !_hand.Wait(0))
            return;
        if (_isReady)
            _hand.Release();
        else
            MakeReady(page);
    }

    /// <summary>Makes it ready in the background, and lets go of it then. What fails is told to whoever needs it next, if it fails again.</summary>
    private void MakeReady(DrawingPage page) =>
        _ = Task.Run(() =>
        {
            try
            {
                Ready(page);
            }
            catch (Exception e) when (IsFailure(e))
            {
                _log.LogWarning("The browser that draws files could not be made ready: {Cause}", e.Message.Split('\n')[0]);
                End();
            }
            finally
            {
                // Let go of first: whatever rests takes nothing out of anybody's hand.
                _hand.Release();
                _rest.Change(Idle, Timeout.InfiniteTimeSpan);
            }
        });

    private static bool IsFailure(Exception e) =>
        e is WebDriverException or InvalidOperationException or System.ComponentModel.Win32Exception or IOException;

    /// <summary>Has something drawn, and does something with it.</summary>
    /// <param name="data">What is drawn, as JSON.</param>
    /// <param name="progress">Is told when it waits, and when it is drawn.</param>
    /// <param name="stop">Whoever waits no more; what is being drawn is drawn to its end.</param>
    /// <exception cref="ProblemException">Too many wait, or the browser can't.</exception>
    public async Task<T> Use<T>(
        DrawingPage page,
        string data,
        (int Width, int Height) size,
        Func<ChromeDriver, T> work,
        FileProgress progress,
        CancellationToken stop
    )
    {
        Require();
        using var turn = await _line.Enter(progress, stop);
        progress.Draws();
        await _hand.WaitAsync(stop);
        _rest.Change(Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        using var givenUp = new CancellationTokenSource();
        try
        {
            var drawing = Task.Run(() => Draw(page, data, size, work, givenUp.Token), CancellationToken.None);
            if (await Task.WhenAny(drawing, Task.Delay(Patience, CancellationToken.None)) == drawing)
                return await drawing;
            await givenUp.CancelAsync();
            End();
            // Nobody else draws before it has let go of the browser; why it fails now is told already.
            await drawing.ContinueWith(d => d.Exception, TaskScheduler.Default);
            throw Failed("It took too long to be drawn.");
        }
        catch (Exception e) when (IsFailure(e))
        {
            _log.LogWarning("The browser that draws files failed and is begun anew: {Cause}", e.Message.Split('\n')[0]);
            End();
            throw Failed("The browser that draws it failed.");
        }
        finally
        {
            _isReady = false;
            // One that failed is begun when it is needed again.
            if (_running is null)
                _hand.Release();
            else
                MakeReady(page);
        }
    }

    private static ProblemException Failed(string why) =>
        new(502, "not-drawn", why, "Try again; take fewer tiles, or csv, xlsx or html, if it fails again.");

    /// <summary>Draws with the browser that runs, or, where that has gone meanwhile, with a new one.</summary>
    private T Draw<T>(DrawingPage page, string data, (int Width, int Height) size, Func<ChromeDriver, T> work, CancellationToken givenUp)
    {
        var isOld = _running is not null;
        try
        {
            return DrawOnce(page, data, size, work);
        }
        catch (WebDriverException e) when (isOld && !givenUp.IsCancellationRequested)
        {
            _log.LogWarning("The browser that draws files was gone and is begun anew: {Cause}", e.Message.Split('\n')[0]);
            End();
            return DrawOnce(page, data, size, work);
        }
    }

    private T DrawOnce<T>(DrawingPage page, string data, (int Width, int Height) size, Func<ChromeDriver, T> work)
    {
        var driver = Ready(page);
        driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?>
            {
                ["width"] = size.Width,
                ["height"] = size.Height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );
        Await(driver, "draw(JSON.parse(arguments[0]))", data);
        return work(driver);
    }

    /// <summary>Waits for something that the page promises.</summary>
    private static void Await(ChromeDriver driver, string promise, params object[] given)
    {
        var fault = driver.ExecuteAsyncScript(
            $"const done = arguments[arguments.length - 1]; {promise}.then(() => done(null), (e) => done(String(e)))",
            given
        );
        if (fault is string said)
            throw new WebDriverException(said);
    }

    /// <summary>The browser with the page open and nothing on it.</summary>
    private ChromeDriver Ready(DrawingPage page)
    {
        var driver = Driver();
        if (_isReady)
            return driver;
        foreach (var (name, text) in page.Files.Where(f => !File.Exists(Path.Combine(_folder, f.Name))))
            File.WriteAllText(Path.Combine(_folder, name), text);
        driver.Navigate().GoToUrl(new Uri(Path.Combine(_folder, page.Files[0].Name)).AbsoluteUri);
        Await(driver, "ready");
        _isReady = true;
        return driver;
    }

    private ChromeDriver Driver()
    {
        if (_running is var (driver, _))
            return driver;
        if (_isOver)
            throw new InvalidOperationException("The service ends.");
        MakeFolder(_folder);
        EndLeftOver();
        MakeFolder(Profiles);
        var chrome = new ChromeOptions { BinaryLocation = Chromium };
        chrome.AddArguments(
            "--headless=new",
            "--disable-gpu",
            "--hide-scrollbars",
            "--no-first-run",
            "--disable-extensions",
            "--disable-sync",
            "--disable-background-networking",
            "--disable-component-update",
            "--force-prefers-reduced-motion",
            // By a pipe it begins sooner than by a port, nobody else on the machine can talk to it, and it ends with its driver.
            "--remote-debugging-pipe",
            "--host-resolver-rules=MAP * ~NOTFOUND"
        );
        // Chromium refuses its sandbox to root, who runs containers.
        if (Environment.UserName == "root")
            chrome.AddArguments("--no-sandbox", "--disable-dev-shm-usage");
        var program = Program("chromedriver")!;
        var service = ChromeDriverService.CreateDefaultService(Path.GetDirectoryName(program), Path.GetFileName(program));
        service.SuppressInitialDiagnosticInformation = true;
        service.HideCommandPromptWindow = true;
        // One that has windows opens a page in the profile that is named to it, and begins with no long path to its temporary files. The
        // other opens none there; the driver makes its profile among the temporary files.
        if (Path.GetFileName(chrome.BinaryLocation) == WithoutWindows)
            service.DriverProcessStarting += (_, starting) => starting.DriverServiceProcessStartInfo.Environment["TMPDIR"] = Profiles;
        else
            chrome.AddArgument($"--user-data-dir={Path.Combine(Profiles, Guid.NewGuid().ToString("N"))}");
        // Before it has begun a browser: whatever ends this service now, the next one finds it.
        service.DriverProcessStarted += (_, started) =>
            File.WriteAllText(PidFile, started.ProcessId.ToString(System.Globalization.CultureInfo.InvariantCulture));
        var begun = new ChromeDriver(service, chrome, Patience);
        begun.Manage().Timeouts().AsynchronousJavaScript = Patience;
        _running = (begun, service);
        if (_isOver)
        {
            End();
            throw new InvalidOperationException("The service ends.");
        }
        return begun;
    }

    /// <summary>Pages hold what their viewers may see: nobody else on the machine reads them.</summary>
    private static void MakeFolder(string folder)
    {
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(folder);
        else
            Directory.CreateDirectory(folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
    }

    /// <summary>Ends what a service that was killed has left running, and removes what that left lying.</summary>
    private void EndLeftOver()
    {
        if (File.Exists(PidFile) && int.TryParse(File.ReadAllText(PidFile), out var pid))
            Kill(pid, "chromedriver");
        File.Delete(PidFile);
        EndBrowsers();
        if (Directory.Exists(Profiles))
            Directory.Delete(Profiles, recursive: true);
        foreach (var file in Directory.GetFiles(_folder))
            File.Delete(file);
    }

    /// <summary>Ends every process that works in a profile of this service: the driver's own children outlive it if it is killed.</summary>
    private void EndBrowsers()
    {
        if (!OperatingSystem.IsLinux())
            return;
        foreach (var process in Process.GetProcesses())
            using (process)
            {
                try
                {
                    if (!File.ReadAllText($"/proc/{process.Id}/cmdline").Contains($"--user-data-dir={Profiles}", StringComparison.Ordinal))
                        continue;
                    process.Kill();
                    process.WaitForExit(TimeSpan.FromSeconds(10));
                }
                catch (Exception e) when (IsGone(e) || e is IOException or UnauthorizedAccessException)
                {
                    // Somebody else's, or gone by itself.
                }
            }
    }

    private static void Kill(int pid, string name)
    {
        try
        {
            using var process = Process.GetProcessById(pid);
            if (!process.ProcessName.StartsWith(name, StringComparison.Ordinal))
                return;
            process.Kill(entireProcessTree: true);
            process.WaitForExit(TimeSpan.FromSeconds(10));
        }
        catch (Exception e) when (IsGone(e))
        {
            // It ended by itself.
        }
    }

    private static bool IsGone(Exception e) => e is ArgumentException or InvalidOperationException or System.ComponentModel.Win32Exception;

    private void Rest()
    {
        // Whoever came meanwhile has it.
        if (!_hand.Wait(0))
            return;
        End();
        _hand.Release();
    }

    private void End()
    {
        if (_running is not var (_, service))
            return;
        (_running, _isReady) = (null, false);
        Kill(service.ProcessId, "chromedriver");
        EndBrowsers();
        File.Delete(PidFile);
        service.Dispose();
    }

    public void Dispose()
    {
        _isOver = true;
        _rest.Dispose();
        End();
    }
}

/// <summary>The page that draws: its <c>ready</c> says when it can, its <c>draw</c> takes the data and says when all is drawn.</summary>
/// <param name="Files">The page itself first, then what it loads from beside it; nothing in them is anybody's.</param>
internal sealed record DrawingPage(IReadOnlyList<(string Name, string Text)> Files);
