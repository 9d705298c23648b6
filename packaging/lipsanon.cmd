@echo off
rem Runs Lipsanon from a package. How much memory it may use: set LIPSANON_MEMORY, for example to 2g.
setlocal
set "root=%~dp0.."
set "java=java"
if defined JAVA_HOME if exist "%JAVA_HOME%\bin\java.exe" set "java=%JAVA_HOME%\bin\java.exe"
if exist "%root%\runtime\bin\java.exe" set "java=%root%\runtime\bin\java.exe"
set "heap=-XX:MaxRAMPercentage=70"
if defined LIPSANON_MEMORY set "heap=-Xmx%LIPSANON_MEMORY%"
"%java%" -XX:+IgnoreUnrecognizedVMOptions --enable-native-access=ALL-UNNAMED -Xlog:disable -Xshare:auto %heap% -XX:+UseSerialGC -cp "%root%\lib\*;%root%\lib\sql\*;%root%\lib\parquet\*" lipsanon.cli.Main %*
exit /b %ERRORLEVEL%
