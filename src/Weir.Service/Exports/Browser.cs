using System.Diagnostics;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace Weir.Service.Exports;

/// <summary>
/// The one browser that prints what viewers take along: Debian's Chromium, begun when it is first needed and ended when it was not for a
/// while. It opens only pages that were made here and that hold all they need; it has no network. Those who want it stand in line.
/// </summary>
internal sealed class Browser : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(90);
    private static readonly TimeSpan Idle = TimeSpan.FromMinutes(3);

    private readonly WaitingLine _line = new(1, 20);
    private readonly string _folder;
    private readonly ILogger<Browser> _log;
    private readonly Timer _rest;
    private volatile bool _isOver;
    private (ChromeDriver Driver, ChromeDriverService Service)? _running;

    public Browser(ServiceOptions options, ILogger<Browser> log)
    {
        (_folder, _log) = (Path.Combine(options.Folders.Work, "paper"), log);
        _rest = new Timer(_ => Rest());
    }

    private string Profiles => Path.Combine(_folder, "profile");

    private string PidFile => Path.Combine(_folder, "driver.pid");

    /// <summary>True if there is a browser on this machine.</summary>
    public bool IsThere => Program("chromium") is not null && Program("chromedriver") is not null;

    /// <exception cref="ProblemException">There is none.</exception>
    public void Require()
    {
        if (!IsThere)
            throw new ProblemException(
                501,
                "no-browser",
                "This service has no browser to draw pictures and pages with.",
                "Whoever runs it installs Debian's packages chromium and chromium-driver. csv, xlsx, json and html go without."
            );
    }

    private static string? Program(string name) =>
        (Environment.GetEnvironmentVariable("PATH") ?? "")
            .Split(Path.PathSeparator, StringSplitOptions.RemoveEmptyEntries)
            .Select(folder => Path.Combine(folder, name))
            .FirstOrDefault(File.Exists);

    /// <summary>Opens a page and does something with it once it is drawn.</summary>
    /// <param name="progress">Is told when it waits, and when it is drawn.</param>
    /// <param name="stop">Whoever waits no more; what is being drawn is drawn to its end.</param>
    /// <exception cref="ProblemException">Too many wait, or the browser can't.</exception>
    public async Task<T> Use<T>(
        string page,
        int width,
        int height,
        Func<ChromeDriver, T> work,
        FileProgress progress,
        CancellationToken stop
    )
    {
        Require();
        using var turn = await _line.Enter(progress, stop);
        progress.Draws();
        _rest.Change(Timeout.Infinite, Timeout.Infinite);
        using var givenUp = new CancellationTokenSource();
        try
        {
            var drawing = Task.Run(() => Draw(page, width, height, work, givenUp.Token), CancellationToken.None);
            if (await Task.WhenAny(drawing, Task.Delay(Patience, CancellationToken.None)) == drawing)
                return await drawing;
            await givenUp.CancelAsync();
            End();
            // Nobody else draws before it has let go of the browser; why it fails now is told already.
            await drawing.ContinueWith(d => d.Exception, TaskScheduler.Default);
            throw Failed("It took too long to be drawn.");
        }
        catch (Exception e) when (e is WebDriverException or InvalidOperationException or System.ComponentModel.Win32Exception)
        {
            _log.LogWarning("The browser that draws files failed and is begun anew: {Cause}", e.Message.Split('\n')[0]);
            End();
            throw Failed("The browser that draws it failed.");
        }
        finally
        {
            _rest.Change(Idle, Timeout.InfiniteTimeSpan);
        }
    }

    private static ProblemException Failed(string why) =>
        new(502, "not-drawn", why, "Try again; take fewer tiles, or csv, xlsx or html, if it fails again.");

    /// <summary>Draws with the browser that runs, or, where that has gone meanwhile, with a new one.</summary>
    private T Draw<T>(string page, int width, int height, Func<ChromeDriver, T> work, CancellationToken givenUp)
    {
        var isOld = _running is not null;
        try
        {
            return DrawOnce(page, width, height, work);
        }
        catch (WebDriverException e) when (isOld && !givenUp.IsCancellationRequested)
        {
            _log.LogWarning("The browser that draws files was gone and is begun anew: {Cause}", e.Message.Split('\n')[0]);
            End();
            return DrawOnce(page, width, height, work);
        }
    }

    private T DrawOnce<T>(string page, int width, int height, Func<ChromeDriver, T> work)
    {
        var driver = Driver();
        var file = Path.Combine(_folder, $"{Guid.NewGuid():N}.html");
        File.WriteAllText(file, page);
        try
        {
            driver.ExecuteCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                new Dictionary<string, object?>
                {
                    ["width"] = width,
                    ["height"] = height,
                    ["deviceScaleFactor"] = 1,
                    ["mobile"] = false,
                }
            );
            driver.Navigate().GoToUrl(new Uri(file).AbsoluteUri);
            // The page says itself when all of it is drawn.
            var fault = driver.ExecuteAsyncScript("const done = arguments[0]; window.drawn.then(() => done(null), (e) => done(String(e)))");
            if (fault is string said)
                throw new WebDriverException(said);
            var made = work(driver);
            driver.Navigate().GoToUrl("about:blank");
            return made;
        }
        finally
        {
            File.Delete(file);
        }
    }

    private ChromeDriver Driver()
    {
        if (_running is var (driver, _))
            return driver;
        if (_isOver)
            throw new InvalidOperationException("The service ends.");
        MakeFolder();
        EndLeftOver();
        var chrome = new ChromeOptions { BinaryLocation = Program("chromium") };
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
            "--host-resolver-rules=MAP * ~NOTFOUND",
            $"--user-data-dir={Path.Combine(Profiles, Guid.NewGuid().ToString("N"))}"
        );
        // Chromium refuses its sandbox to root, who runs containers.
        if (Environment.UserName == "root")
            chrome.AddArguments("--no-sandbox", "--disable-dev-shm-usage");
        var program = Program("chromedriver")!;
        var service = ChromeDriverService.CreateDefaultService(Path.GetDirectoryName(program), Path.GetFileName(program));
        service.SuppressInitialDiagnosticInformation = true;
        service.HideCommandPromptWindow = true;
        var begun = new ChromeDriver(service, chrome, Patience);
        begun.Manage().Timeouts().AsynchronousJavaScript = Patience;
        File.WriteAllText(PidFile, service.ProcessId.ToString(System.Globalization.CultureInfo.InvariantCulture));
        _running = (begun, service);
        return begun;
    }

    /// <summary>Pages hold what their viewers may see: nobody else on the machine reads them.</summary>
    private void MakeFolder()
    {
        if (OperatingSystem.IsWindows())
            Directory.CreateDirectory(_folder);
        else
            Directory.CreateDirectory(_folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
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
        foreach (var page in Directory.GetFiles(_folder, "*.html"))
            File.Delete(page);
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
                    if (File.ReadAllText($"/proc/{process.Id}/cmdline").Contains($"--user-data-dir={Profiles}", StringComparison.Ordinal))
                        process.Kill();
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
        using var turn = _line.EnterIfFree();
        if (turn is not null)
            End();
    }

    private void End()
    {
        if (_running is not var (_, service))
            return;
        _running = null;
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
