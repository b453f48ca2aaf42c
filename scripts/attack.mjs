import { installPackages, installPrograms, root, run } from './setup.mjs'

installPackages()
installPrograms(['ffmpeg'])
run('node', ['scripts/build.mjs', '--no-web'])
run('node', [`${root}/attack/run.mjs`, ...process.argv.slice(2)])
